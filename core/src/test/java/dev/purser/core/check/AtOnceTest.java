package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Everything is told at once, each once, at its own place, in our own words. */
class AtOnceTest {
  private static List<String> check(String... texts) {
    List<SourceFile> files = new java.util.ArrayList<>();
    for (int i = 0; i < texts.length; i++) {
      files.add(new SourceFile("f" + i, texts[i]));
    }
    return DefinitionCheck.check(Definitions.none(), files, LocalDate.of(2027, 3, 1))
        .problems()
        .stream()
        .map(Problem::toString)
        .toList();
  }

  private static String stream(String name, String... lines) {
    return "stream: "
        + name
        + "\nschedule: { days: every day, at: \"06:00\", zone: UTC }\njobs:\n  "
        + String.join("\n  ", lines)
        + "\n";
  }

  /** An unknown name in one file hides neither a circle nor a doubt in others. */
  @Test
  void everyKindOfMistakeIsToldInOneGo() {
    assertThat(
            check(
                "host: quay-north\n---\ncapacity: slots\nunits: 1\n",
                stream("a/unknown", "j: { host: quay-nroth, run: x }"),
                stream(
                    "b/circle",
                    "one: { host: quay-north, run: x, waits-for: two ended }",
                    "two: { host: quay-north, run: x, waits-for: one ended }"),
                stream("c/steps", "s: { stream: c/steps }"),
                stream("d/too-much", "j: { host: quay-north, run: x, takes: { slots: 2 } }"),
                stream(
                    "e/doubt",
                    "j: { host: quay-north, run: x }",
                    "k: { host: quay-north, run: x, usually: 9m, stop-after: 1m }"),
                stream("f/leans", "j: { host: quay-north, run: x, waits-for: a/unknown ended }"),
                "host: [\n"))
        .containsExactly(
            "f1:4:14: error: unknown host \"quay-nroth\"; did you mean \"quay-north\"?",
            "f2:4:3: error: prerequisites go in a circle: b/circle/one → b/circle/two →"
                + " b/circle/one",
            "f3:1:1: error: a stream is a step of itself: c/steps → c/steps",
            "f4:4:3: error: d/too-much/j takes 2 units of \"slots\", which has only 1 at any time",
            "f5:5:3: warning: e/doubt/k usually takes 9m, but stop-after ends it after 1m",
            "f7:2:1: error: this is not valid YAML: a value is missing here, or the ] or } that"
                + " closes what is open above");
  }

  /**
   * Twenty thousand mistakes of one definition, and ten thousand definitions that lean on broken.
   */
  @Test
  @Timeout(60)
  void manyMistakesAreToldAsQuicklyAsTheyAreRead() {
    String[] jobs = new String[20_000];
    Arrays.setAll(jobs, i -> "j" + i + ": { host: nowhere, run: x }");
    assertThat(check(stream("a/many", jobs))).hasSize(20_000);
    StringBuilder chain = new StringBuilder();
    for (int i = 0; i < 10_000; i++) {
      chain.append("---\n");
      String does = i % 2 == 0 ? "run" : "runn";
      chain.append(
          stream(
              "b/s" + i, "j: { host: h, " + does + ": x, waits-for: b/s" + (i + 1) + "/j ended }"));
    }
    assertThat(check("host: h\n", chain.toString())).hasSizeBetween(5_000, 15_000);
  }

  /** What a step lacks is told at the step, once, and not at the stream that it runs. */
  @Test
  void aStepIsBlamedForWhatTheStepLacks() {
    String inner = "stream: port/one\nasks-for: [port, berth]\njobs: { j: { host: h, run: x } }\n";
    String outer =
        stream(
            "port/all",
            "first: { host: h, run: x }",
            "north: { stream: port/one, parameters: { port: north } }");
    assertThat(check("host: h\n", inner, outer))
        .containsExactly(
            "f2:5:3: error: the step port/all/north runs port/one, which asks for \"berth\"; give"
                + " it a value in the step's parameters");
  }

  /** The text, where the mistake is, and a piece of what is said. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      textBlock =
          """
          host: h¶→labels: [a]             | 2:1 | a tab cannot indent YAML
          host: "h¶labels: [a]               | 1:7 | not closed by a quote
          host: h¶labels: [a¶---¶host: b   | 2:9 | goes on with a comma or ends with ]
          host: h¶labels [a]¶title: x       | 2:1 | expected a colon after this name
          host: h¶title: a: b                | 2:9 | a colon cannot stand here
          host: h¶title: @b                  | 2:8 | put the text in quotes
          host: h¶title: *b                  | 2:8 | anchors and aliases
          host: h¶title: &b x                | 2:8 | anchors and aliases
          host: h¶labels: [&b x]             | 2:10 | anchors and aliases
          host: h¶- a                        | 2:1 | compare it with the lines above
          host: { a: b¶title: c              | 1:7 | ends with }
          %X 1                                | 2:1 | look for a missing quote
          """)
  void whatIsNotYamlIsToldInOurWords(String text, String place, String words) {
    assertThat(check(text.replace("¶", "\n").replace("→", "\t") + "\n"))
        .singleElement()
        .asString()
        .startsWith("f0:" + place + ": error: ")
        .contains(words);
  }
}
