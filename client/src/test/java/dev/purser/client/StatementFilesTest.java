package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.sql.Sql;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class StatementFilesTest {
  private static final String STATEMENTS =
      "-- \"quoted\", 'too': {x} # not\ndelete from t where day = ${date};\n\tselect 'ä\\n' as x\n";

  @TempDir private Path folder;

  private String inPlace(String job) throws IOException {
    Files.createDirectories(folder.resolve("sql"));
    Files.writeString(folder.resolve("sql/day.sql"), STATEMENTS);
    Path file = folder.resolve("a.yaml");
    return StatementFiles.inPlace(
        file,
        "{ connection: db, address: 'jdbc:postgresql://db/x' }\n---\nstream: s # sql-file: x\njobs:\n"
            + job);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "  j:\n    sql-file: sql/day.sql\n    database: db\n",
        "  j:\n    database: db\n    sql-file: \"sql/day.sql\"   # by hand\n",
        "  j: { sql-file: sql/day.sql, database: db }\n",
        "  j: { database: db, sql-file: 'sql/day.sql' }\n"
      })
  void theStatementsStandInTheirPlaceAsTheyAreAndNoLineMoves(String job) throws IOException {
    String text = inPlace(job);
    assertThat(text.lines().count()).isEqualTo(4 + job.lines().count());
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("a.yaml", text)), LocalDate.of(2027, 3, 4));
    assertThat(result.problems()).isEmpty();
    Sql sql = (Sql) result.definitions().streams().iterator().next().jobs().get(0).work();
    assertThat(sql.text()).isEqualTo(STATEMENTS.strip());
  }

  @Test
  void aFileThatIsNotThereIsNamedWithTheLine() {
    assertThatThrownBy(() -> inPlace("  j:\n    sql-file: nowhere.sql\n"))
        .hasMessageContaining("a.yaml, line 6: there is no file")
        .hasMessageContaining("nowhere.sql");
  }

  @Test
  void whoeverSendsItWithoutItsFileIsTold() {
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(),
            List.of(new SourceFile("a.yaml", "stream: s\njobs: { j: { sql-file: x.sql } }")),
            LocalDate.of(2027, 3, 4));
    assertThat(result.problems())
        .anySatisfy(
            problem ->
                assertThat(problem.message()).contains("the command line puts them in its place"));
  }
}
