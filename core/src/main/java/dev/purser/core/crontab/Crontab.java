package dev.purser.core.crontab;

import dev.purser.core.reading.Fields;
import dev.purser.core.schedule.Cron;
import dev.purser.core.schedule.Zones;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads a POSIX crontab and writes the definitions of one stream a line. */
public final class Crontab {
  private static final Pattern ENVIRONMENT =
      Pattern.compile("([A-Za-z_][A-Za-z0-9_]*)\\s*=\\s*(.*)");
  private static final Map<String, String> SHORT =
      Map.of(
          "@hourly", "0 * * * *",
          "@daily", "0 0 * * *",
          "@midnight", "0 0 * * *",
          "@weekly", "0 0 * * 0",
          "@monthly", "0 0 1 * *",
          "@yearly", "0 0 1 1 *",
          "@annually", "0 0 1 1 *");
  private static final Set<String> NOT_KEPT = Set.of("MAILTO", "CRON_TZ", "SHELL");

  private final String prefix;
  private final String host;
  private String zone;
  private final Map<String, String> environment = new LinkedHashMap<>();
  private final List<Problem> problems = new ArrayList<>();
  private final Set<String> names = new HashSet<>();
  private final StringBuilder out = new StringBuilder();
  private int jobs;

  private Crontab(String prefix, String host, String zone) {
    this.prefix = prefix;
    this.host = host;
    this.zone = zone;
  }

  /**
   * A line that was not taken, or not wholly.
   *
   * @param line from 1
   * @param taken whether the line was taken all the same
   */
  public record Problem(int line, String text, String reason, boolean taken) {}

  /**
   * What was made.
   *
   * @param yaml the definitions, to be published as they are or after a look
   * @param jobs how many jobs they have
   */
  public record Imported(String yaml, int jobs, List<Problem> problems) {}

  /**
   * Makes definitions.
   *
   * @param prefix of the streams' names, such as {@code imported}
   * @param host on which the commands run
   * @param zone of the times, an IANA name; {@code CRON_TZ} lines change it
   * @throws IllegalArgumentException where one of these cannot be used, in words for people
   */
  public static Imported read(String text, String prefix, String host, String zone) {
    require(Fields.isPath(prefix), prefix, "a beginning of streams' names");
    require(Fields.isName(host), host, "a host's name");
    if (Zones.of(zone).isEmpty()) {
      throw new IllegalArgumentException(Zones.unknown(zone));
    }
    Crontab crontab = new Crontab(prefix, host, zone);
    String[] lines = text.split("\r?\n", -1);
    for (int i = 0; i < lines.length; i++) {
      crontab.line(i + 1, lines[i].strip());
    }
    return new Imported(crontab.out.toString(), crontab.jobs, List.copyOf(crontab.problems));
  }

  private static void require(boolean usable, String text, String what) {
    if (!usable) {
      throw new IllegalArgumentException(
          "\""
              + text
              + "\" cannot be used as "
              + what
              + "; expected lower-case letters, digits,"
              + " dots, dashes and underscores");
    }
  }

  private void line(int number, String line) {
    if (line.isEmpty() || line.startsWith("#")) {
      return;
    }
    Matcher assignment = ENVIRONMENT.matcher(line);
    if (assignment.matches()) {
      environment(number, line, assignment.group(1), unquoted(assignment.group(2).strip()));
      return;
    }
    String word = line.split("\\s+", 2)[0];
    if (word.startsWith("@") && !SHORT.containsKey(word.toLowerCase(Locale.ROOT))) {
      problem(number, line, word + " is not a time of day; start such a job by hand, or by a job");
      return;
    }
    String[] parts = split(line);
    if (parts.length < 2 || parts[1].isBlank()) {
      problem(number, line, "expected five fields and a command, or NAME=VALUE");
      return;
    }
    try {
      Cron.parse(parts[0]);
      job(number, line, parts[0], parts[1].strip());
    } catch (IllegalArgumentException e) {
      problem(number, line, e.getMessage());
    }
  }

  /** The fields, and the command after them. */
  private String[] split(String line) {
    if (line.startsWith("@")) {
      String[] parts = line.split("\\s+", 2);
      return new String[] {
        SHORT.getOrDefault(parts[0].toLowerCase(Locale.ROOT), parts[0]),
        parts.length < 2 ? "" : parts[1]
      };
    }
    String[] parts = line.split("\\s+", 6);
    return parts.length < 6
        ? new String[] {String.join(" ", parts)}
        : new String[] {String.join(" ", List.of(parts).subList(0, 5)), parts[5]};
  }

  private void environment(int number, String line, String name, String value) {
    if (name.equals("CRON_TZ") || name.equals("TZ")) {
      if (Zones.of(value).isEmpty()) {
        problem(
            number,
            line,
            Zones.unknown(value) + "; the times of the lines below are meant in " + zone);
        return;
      }
      zone = value;
    }
    if (name.equals("MAILTO")) {
      notKept(number, line, "alerts go to recipients: give the stream an owner or alerts-to");
    } else if (name.equals("SHELL") && !value.equals("/bin/sh")) {
      notKept(number, line, "commands are read by /bin/sh; call another shell in the command");
    }
    if (!NOT_KEPT.contains(name)) {
      environment.put(name, value);
    }
  }

  private static String unquoted(String text) {
    boolean quoted =
        text.length() > 1
            && (text.charAt(0) == '"' || text.charAt(0) == '\'')
            && text.charAt(text.length() - 1) == text.charAt(0);
    return quoted ? text.substring(1, text.length() - 1) : text;
  }

  private void job(int number, String line, String fields, String command) {
    if (command.matches(".*(?<!\\\\)%.*")) {
      problem(
          number,
          line,
          "it gives the command standard input after a %; put that into a file or a script");
      return;
    }
    String name = name(command);
    String path = prefix + "/" + name;
    out.append(out.isEmpty() ? "" : "---\n");
    out.append("# line ").append(number).append(": ").append(line).append('\n');
    out.append("stream: ").append(path).append('\n');
    out.append("schedule: { cron: ").append(quoted(fields)).append(", zone: ").append(zone);
    out.append(" }\n");
    out.append("jobs:\n  ").append(name).append(":\n    host: ").append(host).append('\n');
    out.append("    run: ").append(quoted(command.replace("\\%", "%").replace("${", "$${")));
    out.append('\n');
    if (!environment.isEmpty()) {
      out.append("    environment:\n");
      environment.forEach(
          (key, value) ->
              out.append("      ")
                  .append(key)
                  .append(": ")
                  .append(quoted(value.replace("${", "$${")))
                  .append('\n'));
    }
    jobs++;
  }

  /** A name from the first word of the command that says something, unique in the file. */
  private String name(String command) {
    String first = "job";
    for (String word : command.replaceAll("\\bcd\\s+\\S+", "").split("[\\s;&|()]+")) {
      String last = word.substring(word.lastIndexOf('/') + 1).replaceAll("\\.[a-z]{1,4}$", "");
      String clean =
          last.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-").replaceAll("^-+|-+$", "");
      boolean says =
          !clean.isEmpty()
              && !word.contains("=")
              && !word.startsWith("-")
              && !Set.of("cd", "nice", "ionice", "env", "sh", "bash", "test", "exec", "sudo")
                  .contains(clean)
              && !word.endsWith("/");
      if (says && !clean.matches("\\d+")) {
        first = clean.length() > 60 ? clean.substring(0, 60) : clean;
        break;
      }
    }
    String name = first;
    for (int i = 2; !names.add(name); i++) {
      name = first + "-" + i;
    }
    return name;
  }

  private static String quoted(String text) {
    return "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"").replace("\t", "\\t") + "\"";
  }

  private void problem(int number, String line, String reason) {
    problems.add(new Problem(number, line, reason, false));
  }

  private void notKept(int number, String line, String reason) {
    problems.add(new Problem(number, line, reason, true));
  }
}
