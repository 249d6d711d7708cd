package dev.purser.core.reading;

import dev.purser.core.calendar.CalendarSource;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.icalendar.HolidayFile;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Durations;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Puts fetched holidays into the definition of the calendar that they were fetched for. */
public final class FetchedCalendar {
  private FetchedCalendar() {}

  /** The definition with other holidays, good up to the end of the last one's year. */
  public static String with(
      HolidayCalendar calendar, List<HolidayCalendar.Holiday> holidays, Optional<LocalDate> last) {
    StringBuilder head = new StringBuilder();
    head.append("title: ").append(HolidayFile.quoted(calendar.title())).append('\n');
    if (!calendar.with().isEmpty()) {
      head.append("with: [").append(String.join(", ", calendar.with())).append("]\n");
    }
    if (!calendar.observance().moves().isEmpty()) {
      head.append("observance: { ").append(calendar.observance()).append(" }\n");
    }
    last.ifPresent(
        day ->
            head.append("known-to: ").append(day.withDayOfYear(day.lengthOfYear())).append('\n'));
    calendar
        .good()
        .warn()
        .ifPresent(warn -> head.append("warn: ").append(Durations.print(warn)).append('\n'));
    CalendarSource source = calendar.source().orElseThrow();
    head.append("source: { connection: ").append(source.connection());
    head.append(", path: ").append(HolidayFile.quoted(source.path()));
    head.append(", every: ").append(Durations.print(source.every())).append(" }\n");
    return HolidayFile.definition(calendar.name(), head.toString(), holidays);
  }

  /**
   * The same reading, in which a calendar that is fetched, and comes without holidays, keeps those
   * that are in force: its author publishes where they come from, not what they are.
   */
  public static DefinitionReader.Reading keepingCopies(
      DefinitionReader.Reading reading, Definitions inForce) {
    List<Document> documents =
        reading.documents().stream().map(document -> kept(document, inForce)).toList();
    return reading.with(documents);
  }

  private static Document kept(Document document, Definitions inForce) {
    Optional<HolidayCalendar> copy =
        inForce
            .document(Kind.HOLIDAY_CALENDAR, document.name())
            .map(Document::value)
            .map(HolidayCalendar.class::cast)
            .filter(old -> old.source().isPresent() && !old.holidays().isEmpty());
    boolean wanted =
        document.value() instanceof HolidayCalendar fresh
            && fresh.source().isPresent()
            && fresh.holidays().isEmpty();
    if (!wanted || copy.isEmpty()) {
      return document;
    }
    HolidayCalendar fresh = (HolidayCalendar) document.value();
    String text = with(fresh, copy.get().holidays(), copy.get().good().knownTo());
    DefinitionReader.Reading again =
        DefinitionReader.read(List.of(new SourceFile(document.file(), text)));
    if (again.documents().size() != 1) {
      throw new IllegalStateException(
          again.problems().stream().map(Problem::toString).collect(Collectors.joining("; ")));
    }
    Document whole = again.documents().get(0);
    return new Document(
        whole.kind(),
        whole.name(),
        whole.text(),
        document.file(),
        document.line(),
        whole.value(),
        document.mentions(),
        document.jobs());
  }
}
