package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Who is told, and whether anybody is. */
class AlertCheckTest {
  private static final String DESK =
      "host: pier\n---\nrecipient: desk\nmail: [desk@brannoch.example]\n---\n";
  private static final String DAILY = "schedule: { days: every day, at: \"06:00\", zone: UTC }\n";
  private static final String JOBS = "jobs: { go: { host: pier, run: x } }\n";

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("t.yaml", text)), LocalDate.of(2027, 3, 4));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "about: x           | it has no owner and no alerts-to",
        "owner: dsk         | its owner \"dsk\" is not a recipient; did you mean \"desk\"?",
        "owner: desk        | ",
        "alerts-to: [desk]  | ",
      })
  void aStreamOfWhichNobodyWouldBeToldIsAWarning(String line, String said) {
    DefinitionCheck.Result result = check(DESK + "stream: a/b\n" + line + "\n" + DAILY + JOBS);
    assertThat(result.isSound()).isTrue();
    if (said == null) {
      assertThat(result.problems()).isEmpty();
    } else {
      assertThat(result.problems())
          .extracting(Problem::message)
          .containsExactly("nobody would be told of alerts of a/b: " + said);
    }
  }

  @Test
  void whoStartsByHandOrLooksByThemselvesNeedNobody() {
    assertThat(check(DESK + "stream: a/b\n" + JOBS).problems()).isEmpty();
    assertThat(check("host: pier\n---\nstream: a/b\n" + DAILY + JOBS).problems()).isEmpty();
  }

  @Test
  void aRecipientInUseCannotBeWithdrawn() {
    Definitions all =
        check(
                DESK
                    + "stream: a/b\nowner: desk\n"
                    + JOBS
                    + "---\nstream: a/c\nalerts-to: [desk]\n"
                    + JOBS)
            .definitions();
    assertThat(DefinitionCheck.usersOf(all, Kind.RECIPIENT, "desk")).containsExactly("a/b", "a/c");
  }
}
