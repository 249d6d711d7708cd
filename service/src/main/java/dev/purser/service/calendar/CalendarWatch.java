package dev.purser.service.calendar;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.Good;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.problem.Shorten;
import dev.purser.service.Settings;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import dev.purser.service.board.Engine;
import dev.purser.service.plan.PlanKeeper;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.springframework.stereotype.Component;

/**
 * Tells people a settable time before a calendar that is in use runs out, and when one cannot be
 * fetched. Whoever gets the alerts of a stream that uses it is told.
 */
@Component
public class CalendarWatch implements SiteWatch {
  private static final int NAMED = 5;

  private final Engine engine;
  private final CalendarFetcher fetcher;
  private final PlanKeeper plan;
  private final Settings settings;
  private Definitions known;
  private Map<String, Set<String>> users = Map.of();

  CalendarWatch(Engine engine, CalendarFetcher fetcher, PlanKeeper plan, Settings settings) {
    this.engine = engine;
    this.fetcher = fetcher;
    this.plan = plan;
    this.settings = settings;
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

  @Override
  public Set<AlertKind> kinds() {
    return Set.of(AlertKind.CALENDAR);
  }

  @Override
  public String because(String reference) {
    return "the calendar is in order again";
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    Definitions definitions = engine.definitions();
    Map<String, CalendarFetchRow> fetches = fetcher.fetches();
    List<SiteTrouble> wrong = new ArrayList<>();
    users(definitions)
        .forEach(
            (name, streams) ->
                problem(name, streams, definitions, fetches.get(name))
                    .ifPresent(text -> wrong.add(trouble(name, text, streams, definitions))));
    return Optional.of(wrong);
  }

  private static SiteTrouble trouble(
      String name, String text, Set<String> paths, Definitions definitions) {
    List<Stream> streams = new ArrayList<>();
    paths.forEach(path -> definitions.stream(path).ifPresent(streams::add));
    String title = title(name, definitions.calendars());
    return new SiteTrouble(
        AlertKind.CALENDAR, "calendar " + name, AlertSubject.CALENDAR, title, text, streams);
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
    return Shorten.names(streams, NAMED);
  }
}
