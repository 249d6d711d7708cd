package dev.purser.service.care;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.publish.Publisher;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.jdbc.core.JdbcTemplate;

/** What an older version accepted, and this one refuses, does not vanish without a word. */
class DefinitionFindingsTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private DefinitionRecords definitions;
  @Autowired private JdbcTemplate database;

  @Test
  void whatIsInForceAndNoLongerAcceptedIsNamed() {
    publish(
        "host: pier\n---\nstream: kept/a\njobs: { go: { host: pier, run: x, stop-after: 9s } }");
    set("9s", "0s");
    assertThat(definitions.at(engine.revision()).stream("kept/a")).isEmpty();
    Finding bad = new DefinitionFindings(engine, definitions).find().get(0);
    assertThat(bad.level()).isEqualTo(Finding.Level.BAD);
    assertThat(bad.text())
        .isEqualTo(
            "1 in force is not accepted by this version and left out, with all runs to come:"
                + " kept/a: cannot use \"0s\" for \"stop-after\"; expected a duration of at least"
                + " 1s, such as 90s, 4m or 1h30m");
    assertThat(bad.remedy()).startsWith("correct and publish");
    set("0s", "9s");
    assertThat(new DefinitionFindings(engine, definitions).find().get(0))
        .isEqualTo(
            Finding.good("definitions", "all that are in force are accepted by this version"));
  }

  private void publish(String text) {
    publisher.publish(List.of(new SourceFile("test.yaml", text)), Optional.empty(), IDA, "test");
  }

  private void set(String from, String to) {
    String swap = "update definition set text=replace(text, ?, ?) where name='kept/a'";
    assertThat(database.update(swap, "stop-after: " + from, "stop-after: " + to)).isPositive();
  }
}
