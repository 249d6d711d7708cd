package dev.purser.core.sql;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SqlTextTest {
  @Test
  void statementsArePartedAndTheirValuesBound() {
    String text =
        """
        -- the day's orders
        delete from total where day = ${date};

        insert into total (day, port)
          values (${date}, ${port});  ;
        """;
    List<Statement> read = SqlText.read(text, Dialect.STANDARD);
    assertThat(read).extracting(Statement::line).containsExactly(2, 4);
    assertThat(read)
        .extracting(Statement::values)
        .containsExactly(List.of("date"), List.of("date", "port"));
    assertThat(read.get(1).text()).endsWith("values (?, ?)");
  }

  /** The text, how MariaDB, PostgreSQL and the standard read it: the number of statements. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '^',
      value = {
        "select ';'                     | 1 | 1 | 1",
        "select 'it''s; so'             | 1 | 1 | 1",
        "select \"a;b\"                 | 1 | 1 | 1",
        "select 'a\\'; select 'b'       | E | 2 | 2",
        "select E'a\\'; b'              | 1 | 1 | E",
        "select `a;b`                   | 1 | 2 | 2",
        "select 1 # one; two            | 1 | 2 | 2",
        "select 5--3; select 1          | 2 | 1 | 1",
        "select 1 /* a; b */; select 2  | 2 | 2 | 2",
        "/* a /* b */ ; select 1 */     | 1 | 0 | 1",
        "do $$ begin; end; $$; select 1 | 4 | 2 | 4",
        "do $a$ x; $b$ y; $a$           | 3 | 1 | 3",
        "/*! set x = 1; */              | 1 | 0 | 0",
        ";;  ;                          | 0 | 0 | 0"
      })
  void eachDatabaseReadsInItsOwnWay(String text, String maria, String postgres, String standard) {
    assertThat(count(text, Dialect.MARIADB)).isEqualTo(maria);
    assertThat(count(text, Dialect.POSTGRESQL)).isEqualTo(postgres);
    assertThat(count(text, Dialect.STANDARD)).isEqualTo(standard);
  }

  private static String count(String text, Dialect dialect) {
    try {
      return String.valueOf(SqlText.read(text, dialect).size());
    } catch (SqlText.Mistake e) {
      return "E";
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '^',
      value = {
        "call p(${out Total x})     | MARIADB    | ${out Total x} is not a value that is given out",
        "select '${port}'           | POSTGRESQL | ${port} cannot be bound within quotes",
        "select \"${port}\"         | MARIADB    | ${port} cannot be bound within quotes",
        "select `${port}`           | MARIADB    | ${port} cannot be bound within quotes",
        "select 1 -- ${port}        | STANDARD   | ${port} cannot be bound within a comment",
        "select 1 /* ${port} */     | STANDARD   | ${port} cannot be bound within a comment",
        "do $$ x ${port} $$         | POSTGRESQL | ${port} cannot be bound within quotes",
        "select 'a                  | STANDARD   | the quote ' does not end",
        "select /* a                | STANDARD   | the comment does not end",
        "select $x$ a               | POSTGRESQL | the quote $x$ does not end",
        "select a ? b               | POSTGRESQL | a question mark stands for a value",
        "select $${x}               | STANDARD   | has no meaning in a statement"
      })
  void whatCannotBeBoundIsRefused(String text, Dialect dialect, String said) {
    assertThatThrownBy(() -> SqlText.read("select 0;\n" + text, dialect))
        .isInstanceOfSatisfying(
            SqlText.Mistake.class, mistake -> assertThat(mistake.line()).isEqualTo(2))
        .hasMessageContaining(said);
  }

  @ParameterizedTest
  @CsvSource({
    "select 1,true",
    "'(select 1)',false",
    "WITH a as (select 1) delete from b,false",
    "update a set b=1,false",
    "Show tables,true"
  })
  void whatOnlyReadsIsKnownByItsFirstWord(String text, boolean reads) {
    assertThat(Sql.onlyReads(SqlText.read(text, Dialect.STANDARD))).isEqualTo(reads);
  }

  @Test
  void aLongTextIsReadInOnePass() {
    String text =
        "select ${a}, '".repeat(1) + "x".repeat(2_000_000) + "'; ".repeat(1) + "$ ".repeat(500_000);
    assertThat(SqlText.read(text, Dialect.POSTGRESQL)).hasSize(2);
  }
}
