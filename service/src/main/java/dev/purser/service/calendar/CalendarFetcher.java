package dev.purser.service.calendar;

import dev.purser.core.calendar.CalendarSource;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.icalendar.HolidayFile;
import dev.purser.core.problem.Problem;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.FetchedCalendar;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import jakarta.persistence.EntityManager;
import jakarta.persistence.PersistenceException;
import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpConnectTimeoutException;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletionException;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Fetches calendars that have a source, and publishes what has changed, so that a fetched calendar
 * has revisions and an audit trail like any other. What cannot be read changes nothing: the last
 * good copy stays in force.
 */
@Component
public class CalendarFetcher {
  private static final Logger LOG = LoggerFactory.getLogger(CalendarFetcher.class);
  private static final AuditTrail.Actor ITSELF =
      new AuditTrail.Actor("purser", "the service itself");
  private static final int MOST_BYTES = 4_000_000;
  private static final Duration AFTER_FAILURE = Duration.ofMinutes(5);

  private final Engine engine;
  private final Publisher publisher;
  private final PlanKeeper plan;
  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Clock clock;
  private final HttpClient http =
      HttpClient.newBuilder()
          .connectTimeout(Duration.ofSeconds(10))
          .followRedirects(HttpClient.Redirect.NORMAL)
          .build();

  CalendarFetcher(
      Engine engine,
      Publisher publisher,
      PlanKeeper plan,
      EntityManager rows,
      TransactionTemplate transactions,
      Clock clock) {
    this.engine = engine;
    this.publisher = publisher;
    this.plan = plan;
    this.rows = rows;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** How the last fetches went, by calendar. */
  public Map<String, CalendarFetchRow> fetches() {
    Map<String, CalendarFetchRow> found = new HashMap<>();
    rows.createQuery("from CalendarFetchRow", CalendarFetchRow.class)
        .getResultList()
        .forEach(row -> found.put(row.calendar, row));
    return found;
  }

  @Scheduled(fixedDelay = 3_000, initialDelay = 3_000)
  void fetchDue() {
    if (!engine.isActive()) {
      return;
    }
    long revision = engine.revision();
    Definitions definitions = engine.definitions();
    List<HolidayCalendar> fetched =
        definitions.calendars().holidayNames().stream()
            .flatMap(name -> definitions.calendars().holidays(name).stream())
            .filter(calendar -> calendar.source().isPresent())
            .toList();
    if (fetched.isEmpty()) {
      return;
    }
    try {
      Map<String, CalendarFetchRow> last = fetches();
      for (HolidayCalendar calendar : fetched) {
        if (isDue(calendar, last.get(calendar.name()))) {
          fetch(calendar, definitions, revision);
          revision = engine.revision();
        }
      }
    } catch (PersistenceException e) {
      LOG.warn("cannot look up which calendars to fetch: {}", e.getMessage());
    }
  }

  private boolean isDue(HolidayCalendar calendar, CalendarFetchRow last) {
    if (last == null || (last.fetched == null && last.error.isEmpty())) {
      return true;
    }
    Duration every = calendar.source().orElseThrow().every();
    Duration wait =
        last.error.isEmpty() || every.compareTo(AFTER_FAILURE) < 0 ? every : AFTER_FAILURE;
    return !clock.instant().isBefore(last.tried.plus(wait));
  }

  private void fetch(HolidayCalendar calendar, Definitions definitions, long revision) {
    CalendarSource source = calendar.source().orElseThrow();
    String error = "";
    try {
      Connection connection = definitions.connection(source.connection()).orElseThrow();
      take(calendar, get(address(connection.address(), source.path())), revision);
    } catch (CompletionException e) {
      LOG.info("calendar {} was not taken: {}", calendar.name(), e.getMessage());
      return;
    } catch (IOException | IllegalArgumentException | IllegalStateException e) {
      error = e.getMessage() == null ? e.toString() : e.getMessage();
      LOG.warn("calendar {} could not be fetched: {}", calendar.name(), error);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return;
    }
    note(calendar.name(), error);
  }

  static String address(String base, String path) {
    return path.isEmpty() ? base : base.replaceAll("/+$", "") + "/" + path.replaceAll("^/+", "");
  }

  private String get(String address) throws IOException, InterruptedException {
    HttpRequest request =
        HttpRequest.newBuilder(URI.create(address))
            .timeout(Duration.ofSeconds(30))
            .header("Accept", "text/calendar")
            .build();
    HttpResponse<InputStream> response;
    try {
      response = http.send(request, HttpResponse.BodyHandlers.ofInputStream());
    } catch (ConnectException | HttpConnectTimeoutException e) {
      throw new IOException(address + " cannot be reached", e);
    } catch (HttpTimeoutException e) {
      throw new IOException(address + " does not answer", e);
    }
    try (InputStream body = response.body()) {
      if (response.statusCode() != 200) {
        throw new IOException(address + " answered " + response.statusCode());
      }
      byte[] bytes = body.readNBytes(MOST_BYTES + 1);
      if (bytes.length > MOST_BYTES) {
        throw new IOException(address + " gives more than " + MOST_BYTES + " bytes");
      }
      return new String(bytes, StandardCharsets.UTF_8);
    }
  }

  private void take(HolidayCalendar calendar, String text, long revision) {
    HolidayFile.Imported imported = HolidayFile.read(calendar.name(), text, plan.today());
    if (!imported.isSound()) {
      throw new IllegalArgumentException(
          imported.problems().stream()
              .filter(Problem::isError)
              .limit(3)
              .map(problem -> "line " + problem.line() + ": " + problem.message())
              .collect(Collectors.joining("; ")));
    }
    String definition = FetchedCalendar.with(calendar, imported.holidays(), imported.last());
    Publisher.Outcome outcome =
        publisher.publish(
            List.of(new SourceFile("fetched", definition)),
            Optional.of(revision), // else it is fetched again, for what is in force then
            ITSELF,
            "fetched from " + calendar.source().orElseThrow().connection());
    if (!outcome.sound()) {
      throw new IllegalStateException(
          "what was fetched is not sound: "
              + outcome.problems().stream()
                  .map(Problem::message)
                  .collect(Collectors.joining("; ")));
    }
  }

  private void note(String calendar, String error) {
    transactions.executeWithoutResult(
        status -> {
          CalendarFetchRow row = rows.find(CalendarFetchRow.class, calendar);
          boolean fresh = row == null;
          CalendarFetchRow kept = fresh ? new CalendarFetchRow() : row;
          kept.calendar = calendar;
          kept.tried = clock.instant();
          kept.fetched = error.isEmpty() ? clock.instant() : kept.fetched;
          kept.error = Shorten.text(error, 1_000);
          if (fresh) {
            rows.persist(kept);
          }
        });
  }
}
