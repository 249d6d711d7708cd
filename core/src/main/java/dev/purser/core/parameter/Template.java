package dev.purser.core.parameter;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.problem.Nearest;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Text with placeholders, each a name in braces after a dollar sign. The business date can be moved
 * by days, business days, weeks, months, quarters or years and given a pattern ({@code date - 1
 * month | yyyy-MM}). A doubled dollar sign before the brace keeps the text as it is.
 */
public final class Template {
  private static final Pattern PLACEHOLDER = Pattern.compile("\\$?\\$\\{([^}]*)}");
  private static final Pattern DATE =
      Pattern.compile(
          "date\\s*(?:([+-])\\s*(\\d{1,4})\\s+(business days?|days?|weeks?|months?|quarters?|years?))?"
              + "\\s*(?:\\|\\s*(.+?))?");
  private static final LocalDate ANY = LocalDate.of(2027, 3, 4);

  private Template() {}

  /** A placeholder that cannot be filled in. */
  public static final class TemplateException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    /** Says which one and what would be right. */
    public TemplateException(String message) {
      super(message);
    }
  }

  /**
   * Checks that every placeholder can be filled in.
   *
   * @throws TemplateException for the first that cannot
   */
  public static void check(String text, Set<String> names) {
    Matcher matcher = PLACEHOLDER.matcher(text);
    while (matcher.find()) {
      String inner = matcher.group(1).trim();
      boolean known = matcher.group().startsWith("$$") || names.contains(inner);
      if (!known && DATE.matcher(inner).matches()) {
        date(inner, ANY, Calendars.NONE);
      } else if (!known) {
        throw unknown(inner, names);
      }
    }
  }

  /**
   * Fills in every placeholder.
   *
   * @param date the business date
   * @param calendars for business days, where the standard one is the stream's
   * @throws TemplateException for the first that cannot be filled in
   */
  public static String fill(
      String text, LocalDate date, Calendars calendars, Map<String, String> values) {
    StringBuilder out = new StringBuilder();
    Matcher matcher = PLACEHOLDER.matcher(text);
    while (matcher.find()) {
      String inner = matcher.group(1).trim();
      String value;
      if (matcher.group().startsWith("$$")) {
        value = matcher.group().substring(1);
      } else if (values.containsKey(inner)) {
        value = values.get(inner);
      } else if (DATE.matcher(inner).matches()) {
        value = date(inner, date, calendars);
      } else {
        throw unknown(inner, values.keySet());
      }
      matcher.appendReplacement(out, Matcher.quoteReplacement(value));
    }
    return matcher.appendTail(out).toString();
  }

  private static TemplateException unknown(String inner, Set<String> names) {
    Set<String> all = new TreeSet<>(names);
    all.add("date");
    return new TemplateException("unknown placeholder ${" + inner + "}" + Nearest.hint(inner, all));
  }

  private static String date(String inner, LocalDate date, Calendars calendars) {
    Matcher matcher = DATE.matcher(inner);
    if (!matcher.matches()) {
      throw new TemplateException("cannot read ${" + inner + "}; write ${date - 1 month | yyyyMM}");
    }
    LocalDate moved = date;
    if (matcher.group(1) != null) {
      int sign = matcher.group(1).equals("-") ? -1 : 1;
      moved = move(date, sign * Integer.parseInt(matcher.group(2)), matcher.group(3), calendars);
    }
    if (matcher.group(4) == null) {
      return moved.toString();
    }
    try {
      return DateTimeFormatter.ofPattern(matcher.group(4)).format(moved);
    } catch (IllegalArgumentException | DateTimeException e) {
      throw patternProblem(matcher.group(4), e);
    }
  }

  private static TemplateException patternProblem(String pattern, RuntimeException cause) {
    TemplateException problem =
        new TemplateException(
            "cannot use the date pattern \"" + pattern + "\": " + cause.getMessage());
    problem.initCause(cause);
    return problem;
  }

  private static LocalDate move(LocalDate date, int by, String unit, Calendars calendars) {
    return switch (unit.charAt(0)) {
      case 'd' -> date.plusDays(by);
      case 'w' -> date.plusWeeks(by);
      case 'm' -> date.plusMonths(by);
      case 'q' -> date.plusMonths(3L * by);
      case 'y' -> date.plusYears(by);
      default -> moveBusinessDays(date, by, calendars);
    };
  }

  private static LocalDate moveBusinessDays(LocalDate date, int by, Calendars calendars) {
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
