package dev.purser.service.arrival;

import dev.purser.core.definition.ConnectionKind;
import dev.purser.remote.http.Site;
import dev.purser.remote.place.RemotePlace;
import dev.purser.service.call.Sites;
import dev.purser.service.connection.ConnectionTrial;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Tries an sftp server: signs in, and lists a directory. */
@Component
class SftpTrial implements ConnectionTrial {
  private final Sites sites;

  SftpTrial(Sites sites) {
    this.sites = sites;
  }

  @Override
  public Set<ConnectionKind> tries() {
    return Set.of(ConnectionKind.SFTP);
  }

  @Override
  public Outcome of(Site site, String path) {
    String directory = path.isEmpty() ? "/" : path;
    List<String> steps = new ArrayList<>();
    try (RemotePlace place = RemotePlace.open(site, sites.web())) {
      steps.add("signed in as " + site.connection().user());
      int[] files = {0};
      place.list(directory, file -> files[0]++);
      steps.add(directory + " holds " + files[0] + (files[0] == 1 ? " file" : " files"));
      return new Outcome(true, steps);
    } catch (IOException e) {
      steps.add(site.without(String.valueOf(e.getMessage())));
      return new Outcome(false, steps);
    }
  }
}
