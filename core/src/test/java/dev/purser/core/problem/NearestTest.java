package dev.purser.core.problem;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NearestTest {
  @ParameterizedTest
  @CsvSource({"abc,abc,0", "abc,abd,1", "abc,acb,1", "abc,'',3", "kitten,sitting,3", "ab,ba,1"})
  void theDistanceCountsChangesAndSwaps(String a, String b, int distance) {
    assertThat(Nearest.distance(a, b)).isEqualTo(distance);
    assertThat(Nearest.distance(b, a)).isEqualTo(distance);
  }

  @Test
  void aHintNamesTheNearestElseAllIfThereAreFewElseNothing() {
    List<String> hosts = List.of("quay-north", "quay-south", "depot");
    assertThat(Nearest.hint("quay-nort", hosts)).isEqualTo("; did you mean \"quay-north\"?");
    assertThat(Nearest.hint("ledger", hosts)).isEqualTo("; there is depot, quay-north, quay-south");
    assertThat(Nearest.hint("x", List.of())).isEqualTo("; none is defined");
    List<String> many =
        java.util.stream.IntStream.range(0, 20).mapToObj(i -> "host" + i * 1000).toList();
    assertThat(Nearest.hint("zz", many)).isEmpty();
  }

  @Test
  void aProblemPrintsWhereEditorsJumpTo() {
    assertThat(Problem.error("a.yaml", 3, 7, "wrong")).hasToString("a.yaml:3:7: error: wrong");
    assertThat(Problem.warning("a.yaml", 0, 0, "odd")).hasToString("a.yaml: warning: odd");
  }
}
