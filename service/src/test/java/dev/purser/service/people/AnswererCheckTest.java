package dev.purser.service.people;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.publish.Publisher;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;

/** Questions left to people who cannot answer them are told when they are checked. */
class AnswererCheckTest extends OnDatabase {
  @Autowired private People people;
  @Autowired private Publisher publisher;

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          [olav]         | nobody could answer ask/it: there is no person "olav"
          [olga, olegg]  | not all that may answer ask/it could: there is no person "olegg"; did you mean "oleg"?
          [oleg, vera]   | nobody could answer ask/it: oleg is locked out; vera may only look, not act
          [olga]         | NONE
          """)
  void whoCannotAnswerIsNamed(String by, String said) {
    people.save("olga", Role.OPERATOR, "-", false);
    people.save("oleg", Role.OPERATOR, "-", false);
    people.save("vera", Role.VIEWER, "-", false);
    people.lock("oleg", true);
    List<Problem> problems =
        publisher
            .check(
                List.of(
                    new SourceFile(
                        "f",
                        "stream: ask\njobs:\n  it: { approve: May it?, answer: { by: "
                            + by
                            + " } }\n")))
            .problems();
    if (said.equals("NONE")) {
      assertThat(problems).isEmpty();
    } else {
      assertThat(problems).singleElement().asString().startsWith("f:3:3: warning: " + said);
    }
  }
}
