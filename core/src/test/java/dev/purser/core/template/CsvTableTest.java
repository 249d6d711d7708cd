package dev.purser.core.template;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.problem.Problem;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Tables as people and other programs write them. */
class CsvTableTest {
  private static final List<Problem> NONE = List.of();

  private final List<Problem> problems = new ArrayList<>();

  private Table read(String text) {
    return CsvTable.read(text, "t.csv", 0, problems);
  }

  @ParameterizedTest
  @CsvSource({
    "'a,b\n1,2\n'",
    "'a,b\r\n1,2\r\n'",
    "'a , b\n 1 , 2 '",
    "'\"a\",\"b\"\n\"1\",\"2\"'",
    "'\uFEFFa,b\n1,2'",
    "'\n\na,b\n\n1,2\n\n'"
  })
  void theSameTableIsReadHoweverItIsWritten(String text) {
    Table table = read(text);
    assertThat(problems).isEqualTo(NONE);
    assertThat(table.columns()).containsExactly("a", "b");
    assertThat(table.rows())
        .extracting(Table.Row::values)
        .containsExactly(Map.of("a", "1", "b", "2"));
  }

  @Test
  void aRowKnowsItsLineThoughCellsHaveLinesThemselves() {
    Table table = CsvTable.read("a\n\"one\ntwo\"\nthree\n", "t.csv", 10, problems);
    assertThat(table.rows()).extracting(Table.Row::line).containsExactly(12, 14);
    assertThat(table.rows().get(1).inWords()).isEqualTo("row 2 (a three)");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          ''                | 1 | the table is empty
          'a,b\n1'          | 2 | row 1 has 1 cell; the first line names 2 columns
          'a\n1,2'          | 2 | row 1 has 2 cells; the first line names 1 column
          'a,a\n1,2'        | 1 | two columns are named "a"
          'a,,\n1,2,3'      | 1 | two columns have no name
          """)
  void whatIsWrongIsToldWithItsLine(String text, int line, String expected) {
    read(text.replace("\\n", "\n"));
    assertThat(problems).isNotEmpty();
    assertThat(problems.get(0).line()).isEqualTo(line);
    assertThat(problems.get(0).message()).contains(expected);
  }

  @Test
  void aTableThatIsTooLongIsRefusedBeforeItIsRead() {
    Table table = read("a\n" + "x\n".repeat(CsvTable.MOST_ROWS + 5));
    assertThat(problems.get(0).message()).contains("at most 20000 rows");
    assertThat(table.rows()).isEmpty();
  }
}
