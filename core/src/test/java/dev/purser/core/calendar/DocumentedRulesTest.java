package dev.purser.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.prerequisite.PrerequisiteParser;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Every example of the docs is true. */
class DocumentedRulesTest {
  private static final Calendars DEMO = DayWorld.read("../demo/world/calendars.yaml");

  private static List<String> examples(String file) throws IOException {
    String text = Files.readString(Path.of("../docs/" + file));
    String block = text.substring(text.indexOf("```examples\n") + 12);
    List<String> lines = block.substring(0, block.indexOf("```")).lines().toList();
    assertThat(lines).hasSizeGreaterThan(3);
    return lines;
  }

  static List<String> dayRules() throws IOException {
    return examples("day-rules.md");
  }

  static List<String> prerequisites() throws IOException {
    return examples("prerequisites.md");
  }

  @ParameterizedTest
  @MethodSource("dayRules")
  void aDocumentedRulePicksTheDocumentedDays(String line) {
    String[] parts = line.split("\\|");
    List<LocalDate> expected =
        Arrays.stream(parts[3].strip().split(" ")).map(LocalDate::parse).toList();
    DayRule rule = DayRuleParser.parse(parts[0]);
    assertThat(
            rule.pick(LocalDate.parse(parts[1].strip()), LocalDate.parse(parts[2].strip()), DEMO)
                .days())
        .isEqualTo(expected);
    assertThat(DayRuleParser.parse(rule.toString())).isEqualTo(rule);
  }

  @ParameterizedTest
  @MethodSource("prerequisites")
  void aDocumentedPrerequisiteReadsAndPrintsAsWritten(String line) {
    assertThat(PrerequisiteParser.parse(line).prerequisite()).hasToString(line);
  }
}
