package dev.purser.service.container;

import dev.purser.remote.cluster.Cluster;
import dev.purser.remote.http.Site;
import dev.purser.service.call.Sites;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import org.springframework.stereotype.Component;

/** The clusters of connections, each opened once, and anew where its connection has changed. */
@Component
class Clusters {
  private final Sites sites;
  private final Map<String, Open> open = new HashMap<>();

  Clusters(Sites sites) {
    this.sites = sites;
  }

  private record Open(Site site, Cluster cluster) {}

  /**
   * A cluster.
   *
   * @throws IOException where this site may not call its address
   */
  synchronized Cluster of(Site site) throws IOException {
    Open known = open.get(site.connection().name());
    if (known != null && known.site().equals(site)) {
      return known.cluster();
    }
    Cluster fresh = Cluster.open(site, sites.gate());
    open.put(site.connection().name(), new Open(site, fresh));
    if (known != null) {
      known.cluster().close();
    }
    return fresh;
  }

  @PreDestroy
  synchronized void close() {
    open.values().forEach(one -> one.cluster().close());
    open.clear();
  }
}
