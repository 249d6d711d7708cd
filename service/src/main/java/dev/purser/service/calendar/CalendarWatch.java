package dev.purser.service.calendar;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.Good;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.run.AlertKind;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.alert.Alerts;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import dev.purser.service.plan.PlanKeeper;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Tells people a settable time before a calendar that is in use runs out, and when one cannot be
 * fetched. Whoever gets the alerts of a stream that uses it is told.
 */
@Component
public class CalendarWatch {
  private static final Logger LOG = LoggerFactory.getLogger(CalendarWatch.class);
  private static final int NAMED = 5;

  private final Engine engine;
  private final CalendarFetcher fetcher;
  private final AlertWriter writer;
  private final Alerts alerts;
  private final PlanKeeper plan;
  private final Live live;
  private final Settings settings;
  private final Clock clock;
  private Definitions known;
  private Map<String, Set<String>> users = Map.of();

  CalendarWatch(
      Engine engine,
      CalendarFetcher fetcher,
      AlertWriter writer,
      Alerts alerts,
      PlanKeeper plan,
      Live live,
      Settings settings,
      Clock clock) {
    this.engine = engine;
    this.fetcher = fetcher;
    this.writer = writer;
    this.alerts = alerts;
    this.plan = plan;
    this.live = live;
    this.settings = settings;
    this.clock = clock;
  }

  /** The streams with a schedule that look at each calendar or period, at any depth. */
  public static Map<String, Set<String>> inUse(Definitions definitions) {
    Map<String, Set<String>> users = new TreeMap<>();
    for (Stream stream : definitions.streams()) {
      if (!stream.schedule().isEmpty()) {
        Calendars calendars = definitions.calendarsOf(stream);
        for (DayRule rule : stream.dayRules()) {
          Set<String> names = new TreeSet<>(calendars.lookedAtBy(rule));
          names.addAll(rule.periods());
          Set.copyOf(names).forEach(name -> names.addAll(calendars.periodsOf(name)));
          names.forEach(
              name -> users.computeIfAbsent(name, any -> new TreeSet<>()).add(stream.path()));
        }
      }
    }
    return users;
  }

  @Scheduled(fixedDelay = 5_000, initialDelay = 5_000)
  void look() {
    if (!engine.isActive()) {
      return;
    }
    try {
      Definitions definitions = engine.definitions();
      Map<String, CalendarFetchRow> fetches = fetcher.fetches();
      Map<String, String> wanted = new TreeMap<>();
      Map<String, Set<String>> users = users(definitions);
      users.forEach(
          (name, streams) ->
              problem(name, streams, definitions, fetches.get(name))
                  .ifPresent(text -> wanted.put(name, text)));
      boolean closed = close(wanted);
      boolean opened = open(wanted, users, definitions);
      boolean changed = closed || opened;
      if (changed) {
        live.alertsChanged();
      }
    } catch (RuntimeException e) {
      LOG.warn("cannot look after the calendars: {}", e.toString());
    }
  }

  /** Worked out anew only when definitions have changed. */
  private Map<String, Set<String>> users(Definitions definitions) {
    if (!definitions.equals(known)) { // identity: a catalogue is never changed
      users = inUse(definitions);
      known = definitions;
    }
    return users;
  }

  /** What is wrong with a calendar that is in use; empty where nothing is. */
  private Optional<String> problem(
      String name, Set<String> streams, Definitions definitions, CalendarFetchRow fetch) {
    Good good = good(name, definitions.calendars());
    String used = "; it is used by " + some(streams);
    LocalDate today = plan.today();
    boolean isFetched =
        definitions.calendars().holidays(name).filter(c -> c.source().isPresent()).isPresent();
    boolean never = isFetched && (fetch == null || fetch.fetched == null);
    if (never && fetch != null && !fetch.error.isEmpty()) {
      return Optional.of("it has no days yet: it cannot be fetched (" + fetch.error + ")" + used);
    }
    if (never) {
      return Optional.empty(); // the first fetch is on its way
    }
    if (isFetched && !fetch.error.isEmpty()) {
      return Optional.of(
          "it cannot be fetched ("
              + fetch.error
              + "); the copy of "
              + LocalDate.ofInstant(fetch.fetched, settings.zone())
              + " stays in force"
              + used);
    }
    long days = good.warn().map(warn -> warn.toDays()).orElse(settings.calendarWarning().toDays());
    return good.knownTo()
        .filter(known -> !known.minusDays(days).isAfter(today))
        .map(
            known ->
                "it"
                    + (known.isBefore(today) ? " ran out on " : " is known only to ")
                    + known
                    + ": what lies after it is a guess"
                    + used);
  }

  private static Good good(String name, Calendars calendars) {
    return calendars
        .holidays(name)
        .map(calendar -> calendar.good())
        .or(() -> calendars.business(name).map(calendar -> calendar.good()))
        .or(() -> calendars.period(name).map(period -> period.good()))
        .orElse(Good.FOR_EVER);
  }

  private static String title(String name, Calendars calendars) {
    return calendars
        .holidays(name)
        .map(calendar -> calendar.title())
        .or(() -> calendars.business(name).map(calendar -> calendar.title()))
        .or(() -> calendars.period(name).map(period -> period.title()))
        .orElse(name);
  }

  private static String some(Set<String> streams) {
    String named = streams.stream().limit(NAMED).collect(Collectors.joining(", "));
    return streams.size() > NAMED ? named + " and " + (streams.size() - NAMED) + " more" : named;
  }

  private static String reference(String calendar) {
    return "calendar " + calendar;
  }

  private boolean close(Map<String, String> wanted) {
    boolean changed = false;
    for (AlertRow alert : alerts.openAbout(AlertKind.CALENDAR)) {
      String text = wanted.get(alert.reference.substring(reference("").length()));
      if (text == null) {
        changed |= alerts.close(alert.id, "the calendar is in order again", clock.instant());
      }
    }
    return changed;
  }

  private boolean open(
      Map<String, String> wanted, Map<String, Set<String>> users, Definitions definitions) {
    Set<String> open =
        alerts.openAbout(AlertKind.CALENDAR).stream()
            .map(one -> one.reference)
            .collect(Collectors.toSet());
    boolean changed = false;
    for (Map.Entry<String, String> one : wanted.entrySet()) {
      String reference = reference(one.getKey());
      if (!open.contains(reference)) {
        List<Stream> streams = new ArrayList<>();
        users.get(one.getKey()).forEach(path -> definitions.stream(path).ifPresent(streams::add));
        writer.open(
            AlertKind.CALENDAR,
            reference,
            title(one.getKey(), definitions.calendars()),
            one.getValue(),
            streams,
            definitions,
            clock.instant());
        changed = true;
      }
    }
    return changed;
  }
}
