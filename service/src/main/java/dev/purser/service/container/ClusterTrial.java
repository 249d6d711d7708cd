package dev.purser.service.container;

import dev.purser.core.definition.ConnectionKind;
import dev.purser.remote.cluster.Cluster;
import dev.purser.remote.http.Site;
import dev.purser.service.call.Sites;
import dev.purser.service.connection.ConnectionTrial;
import java.io.IOException;
import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Tries a cluster: signs in, and asks for its version. */
@Component
class ClusterTrial implements ConnectionTrial {
  private final Sites sites;

  ClusterTrial(Sites sites) {
    this.sites = sites;
  }

  @Override
  public Set<ConnectionKind> tries() {
    return Set.of(ConnectionKind.CLUSTER);
  }

  @Override
  public Outcome of(Site site, String path) {
    try (Cluster cluster = Cluster.open(site, sites.gate())) {
      return new Outcome(true, List.of("it answers, and says that it is " + cluster.version()));
    } catch (IOException e) {
      return new Outcome(false, List.of(e.getMessage()));
    }
  }
}
