package dev.purser.core.template;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.preview.FieldChanges;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A template that is made of streams makes just these streams again. */
class TemplateMakerTest {
  private static final String HOSTS = "host: quay\n---\nhost: depot\n---\n";

  private static Definitions read(String yaml) {
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(),
            List.of(new SourceFile("a.yaml", HOSTS + yaml)),
            LocalDate.of(2027, 1, 4));
    assertThat(result.problems()).filteredOn(Problem::isError).isEmpty();
    return result.definitions();
  }

  private static void makesTheSame(List<String> streams) {
    Definitions before = read(String.join("---\n", streams));
    String yaml = TemplateMaker.of("alike", streams);
    Definitions after = read(yaml);
    assertThat(after.names(Kind.STREAM)).isEqualTo(before.names(Kind.STREAM));
    for (String name : before.names(Kind.STREAM)) {
      Document was = before.document(Kind.STREAM, name).orElseThrow();
      Document is = after.document(Kind.STREAM, name).orElseThrow();
      assertThat(FieldChanges.between(was, is)).as(yaml).isEmpty();
    }
  }

  @Test
  void whatDiffersBecomesAParameterAsShortAsWholeWordsAllow() {
    String yaml =
        TemplateMaker.of(
            "deck",
            List.of(
                "stream: decks/skua\ntitle: Deck of skua\nschedule: { days: weekdays, at: \"05:00\","
                    + " zone: UTC }\njobs: { plan: { run: ./plan.sh skua, host: quay } }\n",
                "stream: decks/kite\ntitle: Deck of kite\nschedule: { days: weekdays, at: \"06:30\","
                    + " zone: UTC }\njobs: { plan: { run: ./plan.sh kite, host: depot } }\n"));
    assertThat(yaml)
        .contains("stream: decks/$<name>", "title: Deck of $<name>", "run: ./plan.sh $<name>")
        .contains("at: \"$<at>\"", "host: $<host>", "name: {type: name}", "at: {type: time}")
        .contains("- {name: skua, at: '05:00', host: quay}");
  }

  @Test
  void whatOnlySomeHaveIsTheirDeviation() {
    List<String> streams =
        List.of(
            "stream: a/x\njobs:\n  one: { run: ./x, host: quay }\n",
            "stream: a/y\nabout: More\njobs:\n  one: { run: ./x, host: quay, usually: 4m }\n"
                + "  two: { run: ./y, host: depot }\n");
    assertThat(TemplateMaker.of("alike", streams))
        .contains("deviations:\n  a/y:\n", "    about: More", "two: {");
    makesTheSame(streams);
  }

  @Test
  void ofOneStreamTheLastWordOfItsPathIsGuessed() {
    String one = "stream: piers/oban\ntitle: Oban\njobs: { a: { run: ./a.sh oban, host: quay } }\n";
    assertThat(TemplateMaker.of("pier", List.of(one)))
        .contains("stream: piers/$<name>", "title: Oban", "run: ./a.sh $<name>");
    makesTheSame(List.of(one));
    assertThatThrownBy(() -> TemplateMaker.of("pier", List.of()))
        .hasMessage("name at least one stream");
  }

  /** Streams by chance, alike in some keys and not in others. */
  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
  void itMakesTheSameStreamsAgain(long seed) {
    Random random = new Random(seed);
    List<String> streams = new ArrayList<>();
    int count = 1 + random.nextInt(5);
    for (int n = 0; n < count; n++) {
      streams.add(stream(n, random));
    }
    makesTheSame(streams);
  }

  private static String stream(int n, Random random) {
    StringBuilder out = new StringBuilder("stream: s" + random.nextInt(3) + "/ship-" + n + "\n");
    if (random.nextBoolean()) {
      out.append("title: \"Ship ").append(n).append(": it's a 'title' #").append(n).append("\"\n");
    }
    if (random.nextBoolean()) {
      out.append("priority: ").append(random.nextInt(5)).append('\n');
    }
    if (random.nextBoolean()) {
      out.append("tags: [a, t").append(random.nextInt(3)).append("]\n");
    }
    out.append("jobs:\n");
    for (int j = 0; j < 1 + random.nextInt(3); j++) {
      out.append("  job-").append(j).append(":\n");
      out.append("    run: ./work.sh --ship ").append(n).append(random.nextBoolean() ? " -v" : "");
      out.append("\n    host: ").append(random.nextBoolean() ? "quay" : "depot").append('\n');
      if (random.nextBoolean()) {
        out.append("    environment: { N: \"").append(random.nextInt(9)).append("\" }\n");
      }
      if (random.nextBoolean()) {
        out.append("    usually: ").append(1 + random.nextInt(9)).append("m\n");
      }
    }
    return out.toString();
  }
}
