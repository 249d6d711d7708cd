package dev.purser.client;

import dev.purser.core.problem.Shorten;
import dev.purser.core.schedule.Zones;
import java.io.PrintWriter;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.QuoteMode;
import picocli.CommandLine;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** How a command prints: text for eyes, JSON and CSV for programs. */
final class Output {
  /** The option that says in which form. */
  static final String OPTION = "--output";

  /** The forms. */
  enum Form {
    text,
    json,
    csv,
    markdown
  }

  @CommandLine.Option(
      names = {"-o", OPTION},
      description = "text, json, csv or markdown; text by default.")
  private Form form = Form.text;

  @CommandLine.Spec(CommandLine.Spec.Target.MIXEE)
  private CommandLine.Model.CommandSpec command;

  /** The clock that the answer is about; null for this machine's. */
  private ZoneId clock;

  /** Made only where it is printed: it takes longer than many commands. */
  private static final class Json {
    private static final JsonMapper MAPPER =
        JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();
  }

  /** RFC 4180, with the line ends of where it runs; made only where it is printed. */
  private static final class Csv {
    private static final CSVFormat FORMAT =
        CSVFormat.RFC4180.builder().setQuoteMode(QuoteMode.MINIMAL).get();
  }

  private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("HH:mm:ss");
  private static final DateTimeFormatter DATE_AND_TIME =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss");
  private static final int LEAST_SENTENCE = 20;
  private static final int SHOWN_INSTEAD = '\uFFFD';

  /** A sentence with its full stop, where it does not end by itself. */
  static String sentence(String text) {
    return text.matches("(?s).*[.?!]") ? text : text + ".";
  }

  /** What could be done instead, by the names of this program's commands. */
  static String inCommands(String refusal) {
    int at = refusal.indexOf(POSSIBLE);
    if (at < 0) {
      return refusal;
    }
    String words = refusal.substring(at + POSSIBLE.length());
    return refusal.substring(0, at + POSSIBLE.length())
        + Arrays.stream(words.split(", "))
            .map(word -> COMMANDS.getOrDefault(word, word))
            .collect(Collectors.joining(", "));
  }

  private static final String POSSIBLE = "possible now: ";
  private static final Map<String, String> COMMANDS =
      Map.of(
          "start", "start-now",
          "succeed", "mark --as succeeded",
          "fail", "mark --as failed",
          "rerun-from", "rerun --and-following");

  /** One column of a table. */
  record Column<T>(String title, Function<T, Object> value) {}

  Form form() {
    return form;
  }

  /** The clock of all times that are printed for people. */
  private ZoneId clock() {
    return clock == null ? Here.zone() : clock;
  }

  /**
   * Prints times for people by the clock of what the answer is about, which its sentences go by
   * too, where there is one; else by this machine's.
   *
   * @param zones of all that it is about
   */
  void byTheClockOf(Collection<String> zones) {
    Set<String> all = Set.copyOf(zones);
    clock = all.size() == 1 ? Zones.of(all.iterator().next()).orElseGet(Here::zone) : Here.zone();
  }

  /** The place of the clock that is not this machine's, as in {@code " (Oslo)"}; else empty. */
  String clockInWords() {
    return clock().equals(Here.zone()) ? "" : " (" + Zones.place(clock()) + ")";
  }

  /** An instant for people, by the clock of this answer; empty for none. */
  String at(Instant instant) {
    return instant == null ? "" : time(instant, clock());
  }

  /** Whether it is for people: as lines and tables, not as data. */
  boolean isText() {
    return form == Form.text || form == Form.markdown;
  }

  /**
   * Prints a list: a table of some columns in text; all of each row in JSON, as one array, and in
   * CSV under the same names.
   */
  <T> void list(Class<T> type, List<T> rows, List<Column<T>> columns, String whenEmpty) {
    switch (form) {
      case json -> line(Json.MAPPER.writeValueAsString(rows));
      case csv -> csv(type, rows);
      case markdown -> {
        if (rows.isEmpty()) {
          line(whenEmpty);
        } else {
          markdown(rows, columns);
        }
      }
      case text -> {
        if (rows.isEmpty()) {
          line(whenEmpty);
        } else {
          table(rows, withSomething(rows, columns));
        }
      }
    }
  }

  /** Prints one thing, a record: by the given words, as a JSON object, or as one row of CSV. */
  void one(Record thing, Runnable inWords) {
    switch (form) {
      case json -> line(Json.MAPPER.writeValueAsString(thing));
      case csv -> csv(thing.getClass(), List.of(thing));
      case text, markdown -> inWords.run();
    }
  }

  private <T> void markdown(List<T> rows, List<Column<T>> all) {
    List<Column<T>> columns = withSomething(rows, all);
    painted("");
    painted("| " + String.join(" | ", titles(rows, columns)) + " |");
    painted("|" + " --- |".repeat(columns.size()));
    for (T row : rows) {
      painted(
          columns.stream()
              .map(column -> Markdown.escaped(inOneLine(human(column.value().apply(row)))))
              .collect(Collectors.joining(" | ", "| ", " |")));
    }
    painted("");
  }

  /** Prints several things that have no columns: by the given words, else as a list. */
  <T> void all(Class<T> type, List<T> things, Runnable inWords) {
    if (isText()) {
      inWords.run();
    } else {
      list(type, things, List.of(), "");
    }
  }

  /** A line for people; what it holds of others' making cannot act on their terminal. */
  void line(String text) {
    if (form == Form.markdown) {
      harmless(text).lines().map(Markdown::line).forEach(this::painted);
    } else {
      painted(form == Form.json ? text : harmless(text));
    }
  }

  void warn(String text) {
    command.commandLine().getErr().println(harmless(text));
  }

  /** A line that is harmless already, and may be coloured. */
  private void painted(String text) {
    command.commandLine().getOut().println(text);
  }

  /**
   * A text in which nothing acts on a terminal: names, notes and output are of others' making, and
   * may hold sequences that clear it, move on it or colour it. Lines and tabs stay.
   */
  static String harmless(String text) {
    boolean clean =
        text.codePoints().noneMatch(c -> c != '\n' && c != '\t' && c != '\r' && acts(c));
    if (clean) {
      return text;
    }
    StringBuilder out = new StringBuilder();
    text.codePoints()
        .map(c -> c != '\n' && c != '\t' && c != '\r' && acts(c) ? SHOWN_INSTEAD : c)
        .forEach(out::appendCodePoint);
    return out.toString();
  }

  /** Control characters, and those that turn the direction of writing. */
  private static boolean acts(int c) {
    return Character.isISOControl(c) || Character.getType(c) == Character.FORMAT;
  }

  /** Prints a row of CSV; cells that a spreadsheet would run are made harmless. */
  static void csv(PrintWriter out, List<?> cells) {
    out.println(Csv.FORMAT.format(cells.stream().map(Output::machine).toArray()));
  }

  private void csv(Class<?> type, List<?> rows) {
    List<String> names = Cells.names(type);
    line(Csv.FORMAT.format(names.toArray()));
    for (Object row : rows) {
      line(Csv.FORMAT.format(Cells.of(row, names).stream().map(Output::machine).toArray()));
    }
  }

  /** Programs for tables run what begins like a formula: it is marked as text. */
  private static String machine(Object value) {
    String text = value.toString();
    boolean formula = !text.isEmpty() && "=+-@\t\r".indexOf(text.charAt(0)) >= 0;
    return formula && !(value instanceof Number) ? "'" + text : text;
  }

  /** The columns in which anything stands, and the first: an empty one only makes lines long. */
  private <T> List<Column<T>> withSomething(List<T> rows, List<Column<T>> columns) {
    return IntStream.range(0, columns.size())
        .filter(
            i ->
                i == 0
                    || rows.stream()
                        .anyMatch(row -> !human(columns.get(i).value().apply(row)).isBlank()))
        .mapToObj(columns::get)
        .toList();
  }

  /**
   * How many characters a line of the terminal has, as the launcher says; many where it is none.
   */
  private static int width() {
    return Integer.getInteger("purser.width", Integer.MAX_VALUE);
  }

  /** Cuts the last column, which is the one for sentences, to what is left of the line. */
  private static void cutLast(List<List<String>> cells, int[] widths, int width) {
    int last = widths.length - 1;
    int before = Arrays.stream(widths).limit(last).sum() + 2 * last;
    int left = Math.max(LEAST_SENTENCE, width - before);
    if (last > 0 && widths[last] > left) {
      cells.forEach(line -> line.set(last, Shorten.text(line.get(last), left)));
      widths[last] = left;
    }
  }

  private <T> void table(List<T> rows, List<Column<T>> columns) {
    List<List<String>> cells = new ArrayList<>();
    List<String> titles = titles(rows, columns);
    int[] widths = titles.stream().mapToInt(String::length).toArray();
    for (T row : rows) {
      List<String> line = new ArrayList<>();
      for (int i = 0; i < columns.size(); i++) {
        String cell = inOneLine(human(columns.get(i).value().apply(row)));
        widths[i] = Math.max(widths[i], cell.codePointCount(0, cell.length()));
        line.add(cell);
      }
      cells.add(line);
    }
    cutLast(cells, widths, width());
    painted(bold(row(titles, widths)));
    for (int r = 0; r < cells.size(); r++) {
      painted(coloured(row(cells.get(r), widths), columns, rows.get(r)));
    }
  }

  /** The first column of times says whose clock is meant, where that is not this machine's. */
  private <T> List<String> titles(List<T> rows, List<Column<T>> columns) {
    List<String> titles = new ArrayList<>(columns.stream().map(Column::title).toList());
    for (int i = 0; i < columns.size(); i++) {
      Column<T> column = columns.get(i);
      if (rows.stream().anyMatch(row -> column.value().apply(row) instanceof Instant)) {
        titles.set(i, titles.get(i) + clockInWords());
        break;
      }
    }
    return titles;
  }

  private static String inOneLine(String cell) {
    return harmless(cell).replace('\n', ' ').replace('\r', ' ').replace('\t', ' ');
  }

  private static String row(List<String> cells, int[] widths) {
    StringBuilder out = new StringBuilder();
    for (int i = 0; i < cells.size(); i++) {
      String cell = cells.get(i);
      out.append(cell);
      if (i < cells.size() - 1) {
        out.append(" ".repeat(widths[i] - cell.codePointCount(0, cell.length()) + 2));
      }
    }
    return out.toString().stripTrailing();
  }

  /** Colours the state in a line that has one. */
  private <T> String coloured(String text, List<Column<T>> columns, T row) {
    if (!ansi().enabled()) {
      return text;
    }
    for (Column<T> column : columns) {
      if (column.value().apply(row) instanceof State state) {
        int at = text.indexOf(state.toString());
        String painted = ansi().string("@|" + state.colour() + " " + state + "|@");
        return at < 0
            ? text
            : text.substring(0, at) + painted + text.substring(at + state.toString().length());
      }
    }
    return text;
  }

  private String bold(String text) {
    return ansi().enabled() ? ansi().string("@|bold " + text + "|@") : text;
  }

  private CommandLine.Help.Ansi ansi() {
    return command.commandLine().getColorScheme().ansi();
  }

  /** A state, printed as an icon and a word. */
  record State(String word) {
    @Override
    public String toString() {
      return icon() + " " + word;
    }

    private String icon() {
      return switch (word) {
        case "planned", "expected" -> "·";
        case "waiting", "settling" -> "…";
        case "starting", "ready" -> "▹";
        case "running", "taken" -> "▶";
        case "succeeded", "used", "in time", "came" -> "✓";
        case "failed", "unprocessed", "missing" -> "✗";
        case "rejected", "late", "overdue" -> "!";
        case "cancelled" -> "⊘";
        case "skipped", "ignored" -> "↷";
        default -> " ";
      };
    }

    private String colour() {
      return switch (word) {
        case "failed", "unprocessed", "missing", "rejected" -> "bold,magenta";
        case "waiting", "settling", "seen", "late", "overdue" -> "yellow";
        case "running", "starting", "ready", "taken" -> "cyan";
        case "succeeded", "used", "in time", "came" -> "green";
        default -> "faint";
      };
    }
  }

  private String human(Object value) {
    if (value == null) {
      return "";
    }
    if (value instanceof Instant instant) {
      return at(instant);
    }
    if (value instanceof OffsetDateTime time) {
      return DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss xxx").format(time);
    }
    if (value instanceof Duration duration) {
      return dev.purser.core.schedule.Durations.print(duration);
    }
    return value.toString();
  }

  /** An instant on the clock of this machine: the time, with the date where it is not today. */
  static String time(Instant instant) {
    return time(instant, Here.zone());
  }

  private static String time(Instant instant, ZoneId clock) {
    var local = instant.atZone(clock);
    boolean today = local.toLocalDate().equals(LocalDate.now(clock));
    return (today ? TIME : DATE_AND_TIME).format(local);
  }
}
