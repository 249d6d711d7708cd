package dev.purser.service.call;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.job.Placement;
import dev.purser.remote.http.Gate;
import dev.purser.remote.http.Road;
import dev.purser.remote.http.Site;
import dev.purser.remote.http.Web;
import dev.purser.remote.sql.Drivers;
import dev.purser.service.alert.Channel;
import dev.purser.service.channel.Reachable;
import dev.purser.service.road.Roads;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretUses;
import dev.purser.service.work.Attempt;
import java.io.IOException;
import java.time.Clock;
import java.util.List;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/** Connections with their secrets, the way to them, and the trail of who used them. */
@Component
public class Sites {
  private final SecretPermits permits;
  private final SecretUses uses;
  private final Roads roads;
  private final Drivers drivers;
  private final Gate gate;
  private final Web web;

  Sites(
      SecretPermits permits,
      Reachable reachable,
      SecretUses uses,
      Roads roads,
      @Value("${purser.drivers:}") String drivers,
      Clock clock) {
    this.drivers = new Drivers(drivers);
    this.permits = permits;
    this.uses = uses;
    this.roads = roads;
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

  /** Drivers of databases that are not built in. */
  public Drivers drivers() {
    return drivers;
  }

  /** Requests to them. */
  public Web web() {
    return web;
  }

  /** Where the job names a group, one of its hosts that is there; each attempt the same one. */
  private String through(Definitions definitions, Attempt attempt) {
    if (!(attempt.run().run().job().placement() instanceof Placement.InService placed)) {
      return "";
    }
    Placement.Through way = placed.through();
    if (way.group().isEmpty()) {
      return way.host();
    }
    List<String> all = definitions.membersOf(way.group());
    List<String> there = all.stream().filter(roads::isThere).toList();
    List<String> some = there.isEmpty() ? all : there;
    return some.isEmpty() ? way.group() : some.get((int) (attempt.id() % some.size()));
  }

  /**
   * A connection with its secret.
   *
   * @throws IOException where there is no such connection, or its secret may not be used or read
   */
  public Site of(Definitions definitions, String name) throws IOException {
    return of(connection(definitions, name));
  }

  private static Connection connection(Definitions definitions, String name) throws IOException {
    return definitions
        .connection(name)
        .orElseThrow(() -> new IOException("there is no connection \"" + name + "\""));
  }

  /**
   * The same of a connection as it stands.
   *
   * @throws IOException where its secret may not be used or read
   */
  public Site of(Connection connection) throws IOException {
    return of(connection, connection.through());
  }

  private Site of(Connection connection, String through) throws IOException {
    return new Site(
        connection,
        permits.secretOf(connection),
        through.isEmpty() ? Road.DIRECT : roads.through(through));
  }

  /**
   * A connection with its secret, for an attempt: that it was used is put in the audit trail, once.
   *
   * @throws IOException as {@link #of}
   */
  public Site use(Definitions definitions, String name, Attempt attempt) throws IOException {
    Connection connection = connection(definitions, name);
    String through = through(definitions, attempt);
    Site site = of(connection, through.isEmpty() ? connection.through() : through);
    if (!site.connection().secret().isNone()) {
      uses.by(attempt, "connection " + name);
    }
    return site;
  }
}
