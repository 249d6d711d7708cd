package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;

class FirstAidTest {
  @Test
  void theNearestSaysWhatToDo() {
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(),
            List.of(
                new SourceFile(
                    "a.yaml",
                    """
                    host: h
                    ---
                    stream: inner
                    jobs:
                      own: { host: h, run: x, when-it-fails: of the job }
                      none: { host: h, run: x }
                    ---
                    stream: outer
                    when-it-fails: of the outer stream
                    jobs:
                      step: { stream: inner }
                      plain: { host: h, run: x }
                    """)),
            LocalDate.of(2027, 3, 4));
    Definitions all = result.definitions();
    assertThat(all.whenItFails("inner/own")).isEqualTo("of the job");
    assertThat(all.whenItFails("inner/none")).isEmpty();
    assertThat(all.whenItFails("outer/plain")).isEqualTo("of the outer stream");
    assertThat(all.whenItFails("outer/step/own")).isEqualTo("of the job");
    assertThat(all.whenItFails("outer/step/none")).isEqualTo("of the outer stream");
    assertThat(all.whenItFails("nothing/such")).isEmpty();
  }
}
