package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.List;
import java.util.concurrent.Callable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import picocli.CommandLine;

/** What others have written does nothing to the terminal or the table of whoever reads it. */
class OutputTest {
  private static final String ESCAPE = "\u001b";

  /** A row of one cell. */
  record Cell(String cell) {}

  /** Prints what it is given. */
  @CommandLine.Command(name = "say")
  static final class Say implements Callable<Integer> {
    @CommandLine.Mixin private Output output;
    @CommandLine.Parameters private List<String> cells;

    @Override
    public Integer call() {
      output.list(
          Cell.class,
          cells.stream().map(Cell::new).toList(),
          List.of(new Output.Column<>("cell", Cell::cell)),
          "none");
      output.line("line " + cells.get(0));
      return 0;
    }
  }

  private static String said(String... arguments) {
    StringWriter out = new StringWriter();
    new CommandLine(new Say()).setOut(new PrintWriter(out)).execute(arguments);
    return out.toString();
  }

  @ParameterizedTest
  @CsvSource({"[2J", "]0;title\u0007", "[31m", "P1;2q"})
  void noSequenceReachesTheTerminal(String rest) {
    String said = said("a" + ESCAPE + rest + "\u202eb\u009b");
    assertThat(said).doesNotContain(ESCAPE).doesNotContain("\u202e").doesNotContain("\u009b");
    assertThat(said).contains("a\uFFFD");
  }

  /** Two columns, one with nothing in it and a sentence. */
  @CommandLine.Command(name = "wide")
  static final class Wide implements Callable<Integer> {
    @CommandLine.Mixin private Output output;
    @CommandLine.Parameters private List<String> cells;

    @Override
    public Integer call() {
      output.list(
          Cell.class,
          cells.stream().map(Cell::new).toList(),
          List.of(
              new Output.Column<>("cell", Cell::cell),
              new Output.Column<>("empty", one -> ""),
              new Output.Column<>("why", one -> "it waits for " + "something ".repeat(20))),
          "none");
      return 0;
    }
  }

  /** Nothing is said of what no row has; a line of a terminal is not broken by a sentence. */
  @ParameterizedTest
  @CsvSource({"60, 60", "30, 30", "10, 26", ", 218"})
  void aTableFitsTheTerminal(Integer width, int longest) {
    if (width != null) {
      System.setProperty("purser.width", width.toString());
    }
    try {
      StringWriter out = new StringWriter();
      new CommandLine(new Wide()).setOut(new PrintWriter(out)).execute("a", "bb");
      assertThat(out.toString()).doesNotContain("empty").contains("it waits for");
      assertThat(out.toString().lines().mapToInt(String::length).max()).hasValue(longest);
    } finally {
      System.clearProperty("purser.width");
    }
  }

  @Test
  void aCellIsOneLine() {
    assertThat(said("a\nb\tc").lines().toList()).contains("a b c");
  }

  @ParameterizedTest
  @CsvSource(
      quoteCharacter = '`',
      value = {"=1+1,'=1+1", "@x,'@x", "+1,'+1", "plain,plain", "a-b,a-b"})
  void noCellIsAFormula(String cell, String written) {
    assertThat(said("-o", "csv", "--", cell).lines().toList()).contains(written);
  }
}
