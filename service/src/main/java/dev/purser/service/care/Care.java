package dev.purser.service.care;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Stream;
import dev.purser.service.Settings;
import dev.purser.service.alert.Alerts;
import dev.purser.service.board.Engine;
import jakarta.mail.MessagingException;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Supplier;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;

/** Looks at everything Purser hangs on, and says in plain words what is wrong and what to do. */
@Component
public class Care {
  private static final int CONNECT_MILLIS = 2_000;
  private static final Duration GOOD_FOR = Duration.ofSeconds(5);
  private static final int DEEP = 5_000;
  private static final double FULL_HEAP = 0.9;

  private final Engine engine;
  private final HostFindings hosts;
  private final DatabaseFindings database;
  private final DefinitionFindings inForce;
  private final Alerts alerts;
  private final JavaMailSenderImpl mail;
  private final Settings settings;
  private final Clock clock;
  private Report last = new Report(Instant.EPOCH, List.of());

  Care(
      Engine engine,
      HostFindings hosts,
      DatabaseFindings database,
      DefinitionFindings inForce,
      Alerts alerts,
      JavaMailSenderImpl mail,
      Settings settings,
      Clock clock) {
    this.engine = engine;
    this.hosts = hosts;
    this.database = database;
    this.inForce = inForce;
    this.alerts = alerts;
    this.mail = mail;
    this.settings = settings;
    this.clock = clock;
  }

  /** What was found, worst first. */
  public record Report(Instant at, List<Finding> findings) {}

  /** Looks, but not more often than every few seconds: it asks others, too. */
  public synchronized Report report() {
    if (last.at().plus(GOOD_FOR).isAfter(clock.instant())) {
      return last;
    }
    List<Finding> all = new ArrayList<>();
    add(all, "service", () -> List.of(service(), heap()));
    add(all, "database", database::find);
    add(all, "definitions", inForce::find);
    add(all, "agents", hosts::find);
    add(all, "mail", this::mail);
    add(all, "webhooks", this::webhooks);
    add(all, "alerts", this::undelivered);
    add(all, "calendars", this::calendars);
    all.sort((a, b) -> b.level().compareTo(a.level()));
    last = new Report(clock.instant(), List.copyOf(all));
    return last;
  }

  private static void add(List<Finding> all, String about, Supplier<List<Finding>> look) {
    try {
      all.addAll(look.get());
    } catch (RuntimeException e) {
      all.add(
          Finding.bad(
              about, "cannot be looked at: " + e.getMessage(), "see the service's own log"));
    }
  }

  private Finding service() {
    if (engine.isDatabaseAway()) {
      return Finding.bad(
          "service",
          "the database is away: nothing new is decided; what runs goes on",
          "bring the database back; the service goes on by itself");
    }
    if (!engine.isWell()) {
      return Finding.bad(
          "service", "the engine has not taken a turn for a while", "see the service's own log");
    }
    if (engine.backlog() > DEEP) {
      return Finding.look(
          "service",
          engine.backlog() + " pieces of news wait to be taken in",
          "if it stays so, the database or this machine is too slow for the load");
    }
    return Finding.good(
        "service",
        "it decides, epoch "
            + engine.epoch()
            + ", "
            + engine.<Integer>look(board -> board.size())
            + " runs on the board");
  }

  private static Finding heap() {
    Runtime machine = Runtime.getRuntime();
    long used = machine.totalMemory() - machine.freeMemory();
    String text =
        String.format(
            Locale.ROOT, "%.0f of %.0f MB are in use", used / 1e6, machine.maxMemory() / 1e6);
    return used > FULL_HEAP * machine.maxMemory()
        ? Finding.look("service's memory", text, "give it more: -Xmx in PURSER_JAVA_OPTIONS")
        : Finding.good("service's memory", text);
  }

  private Set<Recipient> recipients() {
    Definitions definitions = engine.definitions();
    Set<String> names = new TreeSet<>();
    for (Stream stream : definitions.streams()) {
      names.add(stream.owner());
      names.addAll(stream.alertsTo());
    }
    Set<Recipient> found = new LinkedHashSet<>();
    names.forEach(name -> definitions.recipient(name).ifPresent(found::add));
    return found;
  }

  private List<Finding> mail() {
    if (recipients().stream().allMatch(one -> one.addresses("mail").isEmpty())) {
      return List.of(Finding.good("mail", "nobody is told by mail"));
    }
    String server = mail.getHost() + ":" + mail.getPort();
    try {
      mail.testConnection();
      return List.of(Finding.good("mail", "the server at " + server + " takes mail"));
    } catch (MessagingException e) {
      return List.of(
          Finding.bad(
              "mail",
              "the server at " + server + " takes none: " + e.getMessage(),
              "see PURSER_MAIL_HOST and PURSER_MAIL_PORT; alerts wait until it does"));
    }
  }

  private List<Finding> webhooks() {
    Set<URI> hooks = new LinkedHashSet<>();
    recipients().stream()
        .flatMap(one -> one.addresses("webhook").stream())
        .forEach(hook -> hooks.add(URI.create(hook)));
    List<Finding> all = new ArrayList<>();
    Set<String> seen = new LinkedHashSet<>();
    for (URI hook : hooks) {
      int port = hook.getPort() > 0 ? hook.getPort() : hook.getScheme().equals("https") ? 443 : 80;
      if (!seen.add(hook.getHost() + ":" + port)) {
        continue;
      }
      try (Socket socket = new Socket()) {
        socket.connect(new InetSocketAddress(hook.getHost(), port), CONNECT_MILLIS);
      } catch (IOException e) {
        all.add(
            Finding.bad(
                "webhook " + hook.getHost() + ":" + port,
                "cannot be reached: " + e.getMessage(),
                "is its address right, and open from here? Alerts wait until it is"));
      }
    }
    if (all.isEmpty() && !seen.isEmpty()) {
      all.add(Finding.good("webhooks", "reached: " + String.join(", ", seen)));
    }
    return all;
  }

  private List<Finding> undelivered() {
    long waiting = alerts.undelivered();
    return List.of(
        waiting == 0
            ? Finding.good("alerts", "none waits for being delivered again")
            : Finding.bad(
                "alerts",
                waiting + " could not be delivered yet and are tried again",
                "purser alerts shows to whom; see mail and webhooks above"));
  }

  private List<Finding> calendars() {
    int open = alerts.openAbout(Set.of(AlertKind.CALENDAR)).size();
    return List.of(
        open == 0
            ? Finding.good("calendars", "all that are in use are known far enough")
            : Finding.look(
                "calendars",
                (open == 1 ? "one runs" : open + " run") + " out soon, or cannot be fetched",
                "purser alerts names what it is; publish its next year"));
  }

  /** What is set, for people: how long what is kept. */
  public String keeping() {
    String runs = settings.keepRuns() > 0 ? ", at most " + settings.keepRuns() : "";
    return "runs "
        + settings.keepRunsFor().toDays()
        + " days"
        + runs
        + ", output "
        + settings.keepOutputFor().toDays()
        + " days, arrivals "
        + settings.keepArrivalsFor().toDays()
        + " days, audit "
        + settings.keepAuditFor().toDays()
        + " days";
  }
}
