package dev.purser.core.parameter;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.problem.Nearest;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAccessor;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiFunction;
import java.util.function.BinaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Text with placeholders, each in braces after a dollar sign: the name of a parameter (whose value
 * may hold placeholders itself); the business date, moved by days, business days, weeks, months,
 * quarters or years ({@code date - 1 month | yyyy-MM}); a first or last day of a period ({@code
 * last business day of prior month | yyyyMMdd}); a bound of the window ({@code window.start |
 * yyyyMMddHHmm}); a value that a job handed back ({@code value rows of load-bookings}). A doubled
 * dollar sign before the brace keeps the text as it is.
 */
public final class PlaceholderText {
  /** What stands in braces is short: so that a text of nothing but braces is read in one pass. */
  private static final int LONGEST_INSIDE = 200;

  static final Pattern PLACEHOLDER = Pattern.compile("\\$?\\$\\{([^}]{0," + LONGEST_INSIDE + "})}");
  private static final String FORMAT = "\\s*+(?:\\|\\s*+(.+))?";
  private static final Pattern DATE =
      Pattern.compile(
          "date\\s*+(?:([+-])\\s*+(\\d{1,4})\\s+(business days?|days?|weeks?|months?|quarters?|years?))?"
              + FORMAT);
  private static final Pattern DAY =
      Pattern.compile(
          "(first|last)\\s+(business day|day)\\s+of\\s+(this|prior|next)\\s+(week|month|quarter|year)"
              + FORMAT);
  private static final Pattern WINDOW = Pattern.compile("window\\.(start|end)\\s*\\|\\s*(.+?)");
  private static final Pattern VALUE = Pattern.compile("value\\s+(\\S+)\\s+of\\s+(\\S+)");
  private static final LocalDate ANY = LocalDate.of(2027, 3, 4);

  private final LocalDate date;
  private final Calendars calendars;
  private final Map<String, String> values;
  private final BiFunction<String, String, Optional<String>> handedBack;
  private final Deque<String> open = new ArrayDeque<>();

  private PlaceholderText(
      LocalDate date,
      Calendars calendars,
      Map<String, String> values,
      BiFunction<String, String, Optional<String>> handedBack) {
    this.date = date;
    this.calendars = calendars;
    this.values = values;
    this.handedBack = handedBack;
  }

  /** A placeholder that cannot be filled in. */
  public static class PlaceholderException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    /** Says which one and what would be right. */
    public PlaceholderException(String message) {
      super(message);
    }
  }

  /** Parameters ask for each other in a circle, so that none can be filled in. */
  public static final class CircleException extends PlaceholderException {
    private static final long serialVersionUID = 1L;

    CircleException(String message) {
      super(message);
    }
  }

  /**
   * What a text asks for.
   *
   * @param parameters names that must have a value
   * @param handedBack values of other jobs
   */
  public record Asked(List<String> parameters, List<ValueOf> handedBack) {}

  /** A value that a job hands back. */
  public record ValueOf(String name, String job) {}

  /**
   * What a text asks for; dates in it are checked.
   *
   * @throws PlaceholderException for the first date that cannot be filled in
   */
  public static Asked asked(String text) {
    List<String> parameters = new ArrayList<>();
    List<ValueOf> handedBack = new ArrayList<>();
    PlaceholderText any =
        new PlaceholderText(ANY, Calendars.NONE, Map.of(), (name, job) -> Optional.empty());
    Matcher matcher = PLACEHOLDER.matcher(text);
    while (matcher.find()) {
      String inner = matcher.group(1).trim();
      Matcher value = VALUE.matcher(inner);
      Matcher window = WINDOW.matcher(inner);
      if (matcher.group().startsWith("$$")) {
        continue;
      }
      if (value.matches()) {
        handedBack.add(new ValueOf(value.group(1), value.group(2)));
      } else if (window.matches()) {
        format(window.group(2), OffsetDateTime.parse("2027-03-04T00:00Z"));
        parameters.add("window." + window.group(1));
      } else if (any.day(inner).isEmpty()) {
        parameters.add(inner);
      }
    }
    return new Asked(parameters, handedBack);
  }

  /**
   * Checks that every placeholder can be filled in.
   *
   * @throws PlaceholderException for the first that cannot
   */
  public static void check(String text, Set<String> names) {
    for (String name : asked(text).parameters()) {
      if (!names.contains(name)) {
        throw unknown(name, names);
      }
    }
  }

  /**
   * Fills in every placeholder.
   *
   * @param date the business date
   * @param calendars for business days, where the standard one is the stream's
   * @throws PlaceholderException for the first that cannot be filled in
   */
  public static String fill(
      String text, LocalDate date, Calendars calendars, Map<String, String> values) {
    return fill(text, date, calendars, values, (name, job) -> Optional.empty());
  }

  /**
   * Fills in every placeholder, among them values that other jobs handed back.
   *
   * @param handedBack gives the value of a name and a job, where there is one
   * @throws PlaceholderException for the first that cannot be filled in
   */
  public static String fill(
      String text,
      LocalDate date,
      Calendars calendars,
      Map<String, String> values,
      BiFunction<String, String, Optional<String>> handedBack) {
    return new PlaceholderText(date, calendars, values, handedBack).fill(text);
  }

  /**
   * Fills in what can be filled in now, dates and parameters, and leaves all else for later.
   *
   * @return what cannot be filled in stands as it is written
   */
  public static String known(
      String text, LocalDate date, Calendars calendars, Map<String, String> values) {
    PlaceholderText template =
        new PlaceholderText(date, calendars, values, (name, job) -> Optional.empty());
    return replaced(
        text,
        (whole, inner) -> {
          try {
            return template.fill(whole);
          } catch (PlaceholderException e) {
            return whole;
          }
        });
  }

  /**
   * Fills in only the values that other jobs have handed back by now.
   *
   * @param handedBack gives the value of a name and a job, where there is one
   * @return what nobody has handed back stands as it is written
   */
  public static String handedBack(
      String text, BiFunction<String, String, Optional<String>> handedBack) {
    return replaced(
        text,
        (whole, inner) -> {
          Matcher value = VALUE.matcher(inner);
          return !whole.startsWith("$$") && value.matches()
              ? handedBack.apply(value.group(1), value.group(2)).orElse(whole)
              : whole;
        });
  }

  /**
   * Puts something else in the place of each placeholder.
   *
   * @param instead is given the placeholder as it stands, and what is in its braces; a placeholder
   *     whose dollar sign is doubled keeps a text as it is, and is given as well
   */
  public static String each(String text, BinaryOperator<String> instead) {
    return text.indexOf('$') < 0 ? text : replaced(text, instead);
  }

  private static String replaced(String text, BinaryOperator<String> instead) {
    StringBuilder out = new StringBuilder();
    Matcher matcher = PLACEHOLDER.matcher(text);
    while (matcher.find()) {
      String value = instead.apply(matcher.group(), matcher.group(1).trim());
      matcher.appendReplacement(out, Matcher.quoteReplacement(value));
    }
    return matcher.appendTail(out).toString();
  }

  /**
   * Fills in only what the given values answer, and leaves all else for later.
   *
   * @return the text what no value answers stands as it is written
   */
  public static String partly(String text, Map<String, String> values) {
    StringBuilder out = new StringBuilder();
    Matcher matcher = PLACEHOLDER.matcher(text);
    while (matcher.find()) {
      String inner = matcher.group(1).trim();
      boolean known = !matcher.group().startsWith("$$") && values.containsKey(inner);
      String value = known ? partly(values.get(inner), without(values, inner)) : matcher.group();
      matcher.appendReplacement(out, Matcher.quoteReplacement(value));
    }
    return matcher.appendTail(out).toString();
  }

  /** A text without what is filled in. */
  public static String withoutPlaceholders(String text) {
    return PLACEHOLDER.matcher(text).replaceAll("");
  }

  private static Map<String, String> without(Map<String, String> values, String name) {
    Map<String, String> rest = new HashMap<>(values);
    rest.remove(name);
    return rest;
  }

  private String fill(String text) {
    if (text.indexOf('$') < 0) {
      return text;
    }
    StringBuilder out = new StringBuilder();
    Matcher matcher = PLACEHOLDER.matcher(text);
    while (matcher.find()) {
      String value =
          matcher.group().startsWith("$$")
              ? matcher.group().substring(1)
              : value(matcher.group(1).trim());
      matcher.appendReplacement(out, Matcher.quoteReplacement(value));
    }
    return matcher.appendTail(out).toString();
  }

  private String value(String inner) {
    if (values.containsKey(inner)) {
      return parameter(inner);
    }
    Matcher value = VALUE.matcher(inner);
    if (value.matches()) {
      return handedBack
          .apply(value.group(1), value.group(2))
          .orElseThrow(
              () ->
                  new PlaceholderException(
                      "${"
                          + inner
                          + "} has no value: "
                          + value.group(2)
                          + " handed back no \""
                          + value.group(1)
                          + "\""));
    }
    Matcher window = WINDOW.matcher(inner);
    if (window.matches() && values.containsKey("window." + window.group(1))) {
      return format(window.group(2), OffsetDateTime.parse(values.get("window." + window.group(1))));
    }
    return day(inner).orElseThrow(() -> unknown(inner, values.keySet()));
  }

  /** A parameter's value may hold placeholders itself, but not its own. */
  private String parameter(String name) {
    if (open.contains(name)) {
      throw circle(open, name);
    }
    open.addLast(name);
    String filled = fill(values.get(name));
    open.removeLast();
    return filled;
  }

  static CircleException circle(Deque<String> open, String name) {
    return new CircleException(
        "parameters go in a circle: " + String.join(" → ", open) + " → " + name);
  }

  private static PlaceholderException unknown(String inner, Set<String> names) {
    Set<String> all = new TreeSet<>(names);
    all.add("date");
    return new PlaceholderException(
        "unknown placeholder ${" + inner + "}" + Nearest.hint(inner, all));
  }

  private Optional<String> day(String inner) {
    Matcher moved = DATE.matcher(inner);
    if (moved.matches()) {
      int sign = "-".equals(moved.group(1)) ? -1 : 1;
      LocalDate day =
          moved.group(1) == null
              ? date
              : move(sign * Integer.parseInt(moved.group(2)), moved.group(3));
      return Optional.of(print(day, moved.group(4)));
    }
    Matcher matcher = DAY.matcher(inner);
    if (!matcher.matches()) {
      return Optional.empty();
    }
    boolean first = matcher.group(1).equals("first");
    LocalDate day = edge(first, matcher.group(3), matcher.group(4));
    if (matcher.group(2).equals("business day")) {
      day = businessDay(day, first ? 1 : -1);
    }
    return Optional.of(print(day, matcher.group(5)));
  }

  /** The first or last day of this period, the one before or the one after. */
  private LocalDate edge(boolean first, String which, String period) {
    int by = which.equals("prior") ? -1 : which.equals("next") ? 1 : 0;
    LocalDate start =
        switch (period) {
          case "week" ->
              date.with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY)).plusWeeks(by);
          case "month" -> date.withDayOfMonth(1).plusMonths(by);
          case "quarter" ->
              date.withDayOfMonth(1)
                  .minusMonths((date.getMonthValue() - 1) % 3)
                  .plusMonths(3L * by);
          default -> date.withDayOfYear(1).plusYears(by);
        };
    if (first) {
      return start;
    }
    LocalDate next =
        switch (period) {
          case "week" -> start.plusWeeks(1);
          case "month" -> start.plusMonths(1);
          case "quarter" -> start.plusMonths(3);
          default -> start.plusYears(1);
        };
    return next.minusDays(1);
  }

  private LocalDate businessDay(LocalDate from, int step) {
    LocalDate day = from;
    for (int looked = 0; !calendars.isBusinessDay("", day) && looked < 400; looked++) {
      day = day.plusDays(step);
    }
    return day;
  }

  private static String print(LocalDate day, String pattern) {
    return pattern == null ? day.toString() : format(pattern, day);
  }

  private static String format(String pattern, TemporalAccessor time) {
    try {
      return DateTimeFormatter.ofPattern(pattern).format(time);
    } catch (IllegalArgumentException | DateTimeException e) {
      PlaceholderException problem =
          new PlaceholderException(
              "cannot use the date pattern \""
                  + pattern
                  + "\": "
                  + (e instanceof DateTimeException
                      ? "it asks for what is not there: a date has no hours, minutes or zone"
                      : "expected letters such as in yyyy-MM-dd or yyyyMMdd, and other text in"
                          + " single quotes"));
      problem.initCause(e);
      throw problem;
    }
  }

  private LocalDate move(int by, String unit) {
    return switch (unit.charAt(0)) {
      case 'd' -> date.plusDays(by);
      case 'w' -> date.plusWeeks(by);
      case 'm' -> date.plusMonths(by);
      case 'q' -> date.plusMonths(3L * by);
      case 'y' -> date.plusYears(by);
      default -> moveBusinessDays(by);
    };
  }

  private LocalDate moveBusinessDays(int by) {
    LocalDate day = date;
    int left = Math.abs(by);
    for (int looked = 0; left > 0 && looked < 40_000; looked++) {
      day = day.plusDays(Integer.signum(by));
      if (calendars.isBusinessDay("", day)) {
        left--;
      }
    }
    return day;
  }
}
