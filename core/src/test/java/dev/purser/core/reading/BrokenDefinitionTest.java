package dev.purser.core.reading;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;

class BrokenDefinitionTest {
  @Test
  void whatMentionsABrokenDefinitionIsNotBlamedForIt() {
    String text =
        """
        holiday-calendar: brannoch
        holidays: [ { day: 32 december } ]
        ---
        business-calendar: brannoch-office
        without: [brannoch]
        """;
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(),
            List.of(new SourceFile("calendars.yaml", text)),
            LocalDate.of(2027, 3, 1));
    assertThat(result.isSound()).isFalse();
    assertThat(result.problems()).singleElement().satisfies(p -> assertThat(p.line()).isEqualTo(2));
  }
}
