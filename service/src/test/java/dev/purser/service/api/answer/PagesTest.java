package dev.purser.service.api.answer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.problem.NotUnderstood;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.TreeSet;
import java.util.function.Function;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Where the next page of a list begins, which may have changed meanwhile. */
class PagesTest {
  private static final Function<Object, String> ITSELF = String::valueOf;

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          a b c d | 2.b | 2
          a c d   | 2.b | 1
          a b     | 2.b | 2
          a       | 2.b | 1
          c a b   | 2.a | 2
          c b d   | 2.x | 2
          c       | 9.x | 1
          """)
  void aPageBeginsAfterTheLastEntryOfTheOneBefore(String list, String after, int first) {
    assertThat(Pages.first(List.of(list.split(" ")), ITSELF, after)).isEqualTo(first);
  }

  @ParameterizedTest
  @CsvSource({"x", "''", "9999999999.a", "-1.a", "b.2"})
  void aPlaceThatIsNoneIsRefused(String after) {
    assertThatThrownBy(() -> Pages.first(List.of("a"), ITSELF, after))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining("is not a place in this list");
  }

  /** Whatever comes and goes meanwhile: what is there all the time is given, and given once. */
  @Test
  void whatStaysIsGivenOnce() {
    Random random = new Random(20261129);
    for (int world = 0; world < 2_000; world++) {
      TreeSet<String> now = new TreeSet<>();
      for (int i = random.nextInt(30); i >= 0; i--) {
        now.add(Integer.toString(random.nextInt(60), 36));
      }
      TreeSet<String> stays = new TreeSet<>(now);
      List<String> given = new ArrayList<>();
      String after = "0.";
      while (true) {
        List<String> all = List.copyOf(now);
        int first = after.equals("0.") ? 0 : Pages.first(all, ITSELF, after);
        int end = Math.min(all.size(), first + 1 + random.nextInt(5));
        given.addAll(all.subList(first, end));
        if (end == all.size()) {
          break;
        }
        after = end + "." + all.get(end - 1);
        List<String> some = new ArrayList<>(now);
        Collections.shuffle(some, random);
        now.remove(some.get(0));
        stays.remove(some.get(0));
        now.add(Integer.toString(random.nextInt(60), 36));
      }
      assertThat(given).containsAll(stays).doesNotHaveDuplicates();
    }
  }
}
