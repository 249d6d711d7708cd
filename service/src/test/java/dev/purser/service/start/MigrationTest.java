package dev.purser.service.start;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;

import dev.purser.service.OnDatabase;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.core.io.Resource;
import org.springframework.core.io.support.PathMatchingResourcePatternResolver;
import org.springframework.jdbc.core.JdbcTemplate;

/** A change of the tables that was cut off anywhere can be carried out again. */
class MigrationTest extends OnDatabase {
  @Autowired private JdbcTemplate rows;

  @ParameterizedTest
  @ValueSource(ints = {7, 8, 9})
  void aScriptThatWasCarriedOutDoesNothingMore(int version) throws IOException {
    Resource[] found =
        new PathMatchingResourcePatternResolver()
            .getResources("classpath:db/migration/V" + version + "__*.sql");
    assertThat(found).hasSize(1);
    String script =
        found[0].getContentAsString(StandardCharsets.UTF_8).replaceAll("(?m)^--.*$", "");
    for (String statement : script.split(";")) {
      if (!statement.isBlank()) {
        assertThatCode(() -> rows.execute(statement)).as(statement).doesNotThrowAnyException();
      }
    }
  }
}
