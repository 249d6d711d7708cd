package dev.purser.service.call;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.remote.http.Gate;
import dev.purser.remote.http.Site;
import dev.purser.remote.http.Web;
import dev.purser.service.alert.Channel;
import dev.purser.service.channel.Reachable;
import dev.purser.service.secret.SecretPermits;
import java.io.IOException;
import java.time.Clock;
import org.springframework.stereotype.Component;

/** Connections with their secrets, and the way to them. */
@Component
public class Sites {
  private final SecretPermits permits;
  private final Gate gate;
  private final Web web;

  Sites(SecretPermits permits, Reachable reachable, Clock clock) {
    this.permits = permits;
    this.gate =
        address -> {
          try {
            reachable.check(address);
          } catch (Channel.DeliveryFailed e) {
            throw new IOException(e.getMessage(), e);
          }
        };
    this.web = new Web(gate, clock);
  }

  /** Which addresses this site allows. */
  public Gate gate() {
    return gate;
  }

  /** Requests to them. */
  public Web web() {
    return web;
  }

  /**
   * A connection with its secret.
   *
   * @throws IOException where there is no such connection, or its secret may not be used or read
   */
  public Site of(Definitions definitions, String name) throws IOException {
    Connection connection =
        definitions
            .connection(name)
            .orElseThrow(() -> new IOException("there is no connection \"" + name + "\""));
    return new Site(connection, permits.secretOf(connection));
  }
}
