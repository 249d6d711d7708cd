package dev.purser.service.connection;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.ConnectionKind;
import dev.purser.core.definition.SignInWay;
import dev.purser.remote.http.Outgoing;
import dev.purser.remote.http.Reply;
import dev.purser.remote.http.Site;
import dev.purser.service.call.Sites;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Tries what answers by HTTP, with a GET. */
@Component
class HttpTrial implements ConnectionTrial {
  private static final int MOST = 2_000;
  private static final int LONGEST_SHOWN = 200;

  private final Sites sites;

  HttpTrial(Sites sites) {
    this.sites = sites;
  }

  @Override
  public Set<ConnectionKind> tries() {
    return Set.of(ConnectionKind.HTTP, ConnectionKind.HTTP_UNSAID, ConnectionKind.OBJECT_STORE);
  }

  @Override
  public Outcome of(Site site, String path) {
    Connection connection = site.connection();
    List<String> steps = new ArrayList<>();
    steps.add(signsIn(connection));
    Reply reply = sites.web().send(site, Outgoing.get(path), MOST).join();
    if (reply instanceof Reply.Answered answered) {
      return answered(connection, path, answered, steps);
    }
    steps.add(reply.why());
    return new Outcome(false, steps);
  }

  private static String signsIn(Connection connection) {
    SignInWay way = connection.signIn().way();
    return switch (way) {
      case NONE -> "nobody signs in";
      case OAUTH2 ->
          "gets a token for " + connection.user() + " at " + connection.signIn().tokenAddress();
      case BASIC -> "signs in as " + connection.user();
      case BEARER -> "signs in with a token";
      case HEADER -> "signs in with the header " + connection.signIn().header();
      case CERTIFICATE -> "signs in with the certificate " + connection.signIn().certificate();
    };
  }

  private static Outcome answered(
      Connection connection, String path, Reply.Answered answered, List<String> steps) {
    String begins = answered.body().strip().replaceAll("\\s+", " ");
    String shown =
        begins.length() > LONGEST_SHOWN ? begins.substring(0, LONGEST_SHOWN) + "…" : begins;
    steps.add(
        "GET "
            + connection.address().replaceAll("/+$", "")
            + path
            + " was answered "
            + answered.code()
            + (shown.isEmpty() ? "" : ": " + shown));
    boolean in = answered.code() != 401 && answered.code() != 403 && answered.code() / 100 != 5;
    if (!in) {
      steps.add(
          answered.code() / 100 == 5
              ? "it is there, and has a fault of its own"
              : "it is there, and does not let us in");
    } else if (answered.code() == 404) {
      steps.add("it is there; that path is not (purser connections try NAME --path /...)");
    } else if (answered.code() / 100 == 3) {
      steps.add("it sends elsewhere; redirects are not followed: name that address instead");
    }
    return new Outcome(in && answered.code() / 100 != 3, steps);
  }
}
