package dev.purser.core.template;

import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * A parameter of a template, written {@code $<name>} in it.
 *
 * @param name as it stands between the angle brackets
 * @param type what its values must be
 * @param standard its value where none is given; empty where one must be
 * @param allowed the only values that it takes; empty for any of its type
 * @param help what it is for, in a line
 */
public record TemplateParameter(
    String name, ParameterType type, Optional<String> standard, List<String> allowed, String help) {

  /** What is wrong with a value; empty where nothing is. */
  public Optional<String> refusal(String value) {
    if (!allowed.isEmpty()) {
      return allowed.contains(value)
          ? Optional.empty()
          : Optional.of("\"" + value + "\" is not allowed; it is one of " + list(allowed));
    }
    return value.isEmpty() || type.fits(value)
        ? Optional.empty()
        : Optional.of("\"" + value + "\" is not " + type.expected());
  }

  private static String list(List<String> values) {
    return String.join(", ", values.stream().map(one -> one.isEmpty() ? "\"\"" : one).toList());
  }

  /** A value with which the template can be looked at where nobody has given one. */
  public String sample() {
    if (standard.isPresent()) {
      return standard.get();
    }
    if (!allowed.isEmpty()) {
      return allowed.get(0);
    }
    return switch (type) {
      case TEXT -> "sample";
      case NAME -> "sample-" + name.toLowerCase(Locale.ROOT).replace('_', '-');
      case PATH -> "sample/" + name.toLowerCase(Locale.ROOT).replace('_', '-');
      case NUMBER -> "1";
      case FLAG -> "yes";
      case TIME -> "07:00";
      case DURATION -> "5m";
      case DATE -> "2027-01-04";
      case DAYS -> "weekdays";
      case ZONE -> "Europe/Oslo";
    };
  }
}
