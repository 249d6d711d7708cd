package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class CirclesTest {
  private static Optional<List<String>> from(String start, Map<String, List<String>> leansOn) {
    return Circles.from(start, one -> leansOn.getOrDefault(one, List.of()), new HashSet<>());
  }

  @Test
  void aCircleIsGivenWholeAndWhatLeadsToItIsNotPartOfIt() {
    assertThat(from("a", Map.of("a", List.of("a")))).contains(List.of("a", "a"));
    assertThat(from("x", Map.of("x", List.of("y", "a"), "a", List.of("b"), "b", List.of("c", "a"))))
        .contains(List.of("a", "b", "a"));
    assertThat(from("a", Map.of("a", List.of("b", "c"), "b", List.of("c")))).isEmpty();
  }

  /** One that calls itself for each link would not come back from this. */
  @Test
  void aChainMayBeAsLongAsItLikes() {
    int length = 300_000;
    Function<Integer, List<String>> next =
        i -> i < length ? List.of(String.valueOf(i + 1)) : List.of("150000");
    Set<String> done = new HashSet<>();
    assertThat(Circles.from("0", one -> next.apply(Integer.parseInt(one)), done).orElseThrow())
        .hasSize(150_002)
        .startsWith("150000")
        .endsWith("150000");
    assertThat(Circles.from("7", one -> next.apply(Integer.parseInt(one)), done)).isEmpty();
  }

  /** Held against a plain search: whoever comes back to itself is on a circle. */
  @Test
  void thereIsACircleWhereSomethingComesBackToItself() {
    Random random = new Random(20261129);
    for (int world = 0; world < 2_000; world++) {
      int many = 2 + random.nextInt(7);
      boolean[][] arrows = new boolean[many][many];
      for (int arrow = random.nextInt(2 * many); arrow > 0; arrow--) {
        arrows[random.nextInt(many)][random.nextInt(many)] = true;
      }
      Function<String, java.util.Collection<String>> next =
          one ->
              IntStream.range(0, many)
                  .filter(to -> arrows[Integer.parseInt(one)][to])
                  .mapToObj(String::valueOf)
                  .toList();
      Set<String> done = new HashSet<>();
      boolean found = false;
      for (int start = 0; start < many; start++) {
        Optional<List<String>> circle = Circles.from(String.valueOf(start), next, done);
        circle.ifPresent(
            all -> {
              assertThat(all.get(0)).isEqualTo(all.get(all.size() - 1));
              for (int i = 1; i < all.size(); i++) {
                assertThat(next.apply(all.get(i - 1))).contains(all.get(i));
              }
            });
        found |= circle.isPresent();
      }
      assertThat(found).isEqualTo(comesBack(arrows));
    }
  }

  private static boolean comesBack(boolean[][] arrows) {
    int many = arrows.length;
    boolean[][] reach = new boolean[many][];
    for (int i = 0; i < many; i++) {
      reach[i] = arrows[i].clone();
    }
    for (int by = 0; by < many; by++) {
      for (int from = 0; from < many; from++) {
        for (int to = 0; to < many; to++) {
          reach[from][to] |= reach[from][by] && reach[by][to];
        }
      }
    }
    return IntStream.range(0, many).anyMatch(i -> reach[i][i]);
  }
}
