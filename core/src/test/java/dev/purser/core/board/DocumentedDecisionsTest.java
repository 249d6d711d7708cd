package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Every example of {@code docs/how-a-run-is-decided.md} goes as it is told there. */
class DocumentedDecisionsTest {
  private static final String INNER =
      """
      stream: inner
      jobs:
        x: { host: quay-north, run: x }
        y: { host: quay-north, run: x, waits-for: x succeeded }
      """;
  private static final Pattern STANDS = Pattern.compile("(\\S+) is (\\S+?)(?:: (.+))?");
  private static final Pattern ENDS = Pattern.compile("(\\S+) ends (\\d+)(?: (.+))?");
  private static final Pattern AT = Pattern.compile("at \\+(\\d+)m");

  static List<String> examples() throws IOException {
    String[] parts =
        Files.readString(Path.of("../docs/how-a-run-is-decided.md")).split("```decided\n", -1);
    assertThat(parts).hasSizeGreaterThan(8);
    return Arrays.stream(parts)
        .skip(1)
        .map(part -> part.substring(0, part.indexOf("```")))
        .toList();
  }

  @ParameterizedTest
  @MethodSource("examples")
  void itGoesAsItIsTold(String example) {
    String[] halves = example.split("---\n");
    Pier pier =
        new Pier(
            Pier.read(
                Pier.SITE,
                INNER,
                "stream: night\nschedule: { days: every day, at: \"21:30\", zone: Europe/Oslo }\njobs:\n"
                    + halves[0].indent(2)));
    halves[1].lines().forEach(line -> follow(pier, line));
  }

  private static void follow(Pier pier, String line) {
    Matcher stands = STANDS.matcher(line);
    Matcher ends = ENDS.matcher(line);
    Matcher at = AT.matcher(line);
    String[] words = line.split(" ");
    if (line.equals("due")) {
      pier.at(0);
    } else if (at.matches()) {
      pier.at(Long.parseLong(at.group(1)));
    } else if (line.endsWith(" begins")) {
      pier.begin(words[0]);
    } else if (ends.matches()) {
      pier.end(ends.group(1), Integer.parseInt(ends.group(2)), values(ends.group(3)));
    } else if (stands.matches()) {
      assertThat(pier.state(stands.group(1)).word()).as(line).isEqualTo(stands.group(2));
      if (stands.group(3) != null) {
        assertThat(pier.why(stands.group(1))).as(line).contains(stands.group(3));
      }
    } else if (words[0].equals("units")) {
      pier.apply(
          new BoardEvent.CapacitySet(pier.board.now(), words[1], Integer.parseInt(words[2])));
    } else {
      Action action = Action.of(words[0]).orElseThrow();
      pier.act(words[1], action, words.length > 2 ? Long.parseLong(words[2]) : 0);
    }
    assertThat(pier.given(Instruction.Refused.class)).as(line).isEmpty();
  }

  private static Map<String, String> values(String text) {
    Map<String, String> values = new HashMap<>();
    if (text != null) {
      for (String pair : text.split(" ")) {
        values.put(pair.split("=")[0], pair.split("=")[1]);
      }
    }
    return values;
  }
}
