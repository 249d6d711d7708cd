package dev.purser.core.definition;

import dev.purser.core.alert.AlertRule;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Optional;

/**
 * A promise to the business: an end job is done by a time, or within a duration.
 *
 * @param title for people who know no job names
 * @param about what it is for
 * @param department to whom it belongs
 * @param owner the recipient of its alerts, where one of that name is defined
 * @param alertsTo further recipients
 * @param of the end job: the full path of a job or of a stream, which is done when all its jobs are
 * @param promise what is promised
 * @param days the business dates on which it holds; empty for every date of the end job
 * @param calendar the business calendar that its day rule means; empty for Monday to Friday
 * @param beginsAfter full paths of jobs or streams after which its lineage begins
 * @param leaveOut full paths of jobs or streams that say nothing about it
 * @param historyFrom runs of earlier dates do not count; empty where all do
 * @param important whether its alerts are urgent
 * @param warnAt from which chance of being late people are warned, above 0 and up to 1
 * @param alerts rules of its alerts
 */
public record Commitment(
    String name,
    String title,
    String about,
    String department,
    String owner,
    List<String> alertsTo,
    String of,
    Promise promise,
    Optional<DayRule> days,
    String calendar,
    List<String> beginsAfter,
    List<String> leaveOut,
    Optional<LocalDate> historyFrom,
    boolean important,
    double warnAt,
    List<AlertRule> alerts) {
  /** Where nothing is said, people are warned from this chance on. */
  public static final double USUAL_WARN_AT = 0.4;

  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");

  /** Copies the lists. */
  public Commitment {
    alertsTo = List.copyOf(alertsTo);
    beginsAfter = List.copyOf(beginsAfter);
    leaveOut = List.copyOf(leaveOut);
    alerts = List.copyOf(alerts);
  }

  /** What is promised. */
  public sealed interface Promise {
    /** As people read it, after "done". */
    String inWords();
  }

  /**
   * Done by a time of day: the first such time after the end job's planned start; or that time so
   * many days after the day of that start.
   *
   * @param daysLater 0 for the first such time
   */
  public record DoneBy(LocalTime time, int daysLater, ZoneId zone) implements Promise {
    @Override
    public String inWords() {
      String day =
          daysLater == 0 ? "" : daysLater == 1 ? " next day" : " " + daysLater + " days later";
      return "by " + HH_MM.format(time) + day + " (" + zone + ")";
    }
  }

  /** Done this long after the planned start of the first of its lineage. */
  public record Within(Duration duration) implements Promise {
    @Override
    public String inWords() {
      return "within " + Durations.print(duration);
    }
  }

  /** Done when nine of ten earlier ends were. */
  public record AsUsual() implements Promise {
    @Override
    public String inWords() {
      return "as usual";
    }
  }
}
