package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What the journal knows after it was closed, cut off, or has grown. */
class JournalTest {
  @TempDir private Path home;

  private static Journal.Entry entry(String name) {
    return new Journal.Entry(name, 5_000, "boot-a");
  }

  private List<String> known() {
    try (Journal journal = new Journal(home)) {
      return journal.entries().stream().map(Journal.Entry::name).toList();
    }
  }

  @Test
  void whatWasAddedIsKnownAgainWithAllThatWasSaidOfIt() throws IOException {
    Journal.Entry other = new Journal.Entry("7.2", 0, "boot-b");
    try (Journal journal = new Journal(home)) {
      journal.add(List.of(entry("1.1"), entry("2.1"), other));
      journal.forget("2.1");
      journal.forget("9.9");
    }
    try (Journal journal = new Journal(home)) {
      assertThat(journal.entries()).containsExactly(entry("1.1"), other);
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          +1.1 5 b!~+2.1 5 b!~       | 1.1 2.1
          +1.1 5 b!~+2.1 5 b         | 1.1
          +1.1 5 b!~+2.1             | 1.1
          +1.1 5 b!~-1.1!~           | ''
          +1.1 5 b!~-1.1             | 1.1
          +1.1 5 b!~~~+2.1 5 b!~     | 1.1 2.1
          +1.1 many b!~+2.1 5 b!~    | 2.1
          +one 5 b!~+2.1 5 b!~       | 2.1
          +1.1 99999999999999999999 b!~+2.1 5 b!~ | 2.1
          nonsense~.1 5 b!~+2.1 5 b!~ | 2.1
          ''                         | ''
          """)
  void linesThatWereCutShortOrAreNoLinesSayNothing(String lines, String names) throws IOException {
    Files.writeString(home.resolve("journal"), lines.replace('~', '\n'));
    assertThat(String.join(" ", known())).isEqualTo(names);
  }

  /** Whatever was done, and wherever it was cut off: no attempt is known that was not added. */
  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
  void cutOffAnywhereItKnowsWhatWasWholeByThen(long seed) throws IOException {
    Random random = new Random(seed);
    TreeSet<String> model = new TreeSet<>();
    TreeSet<String> ever = new TreeSet<>();
    try (Journal journal = new Journal(home)) {
      for (int i = 0; i < 300; i++) {
        if (random.nextInt(3) > 0 || model.isEmpty()) {
          String name = i + ".1";
          journal.add(List.of(entry(name)));
          model.add(name);
          ever.add(name);
        } else {
          String name = new ArrayList<>(model).get(random.nextInt(model.size()));
          journal.forget(name);
          model.remove(name);
        }
      }
    }
    byte[] whole = Files.readAllBytes(home.resolve("journal"));
    assertThat(known()).containsExactlyInAnyOrderElementsOf(model);
    int end = new String(whole, StandardCharsets.ISO_8859_1).stripTrailing().length();
    for (int i = 0; i < 20; i++) {
      byte[] cut = java.util.Arrays.copyOf(whole, random.nextInt(end));
      Files.write(home.resolve("journal"), cut);
      assertThat(ever).containsAll(known());
    }
  }

  @Test
  void itIsWrittenAnewWhenItIsFullAndLosesNothing() throws IOException {
    try (Journal journal = new Journal(home)) {
      journal.add(List.of(entry("1.1")));
      for (int i = 0; i < 30; i++) {
        int round = i;
        List<Journal.Entry> many =
            Stream.iterate(1, n -> n + 1)
                .limit(2_000)
                .map(n -> entry((round * 2_000 + n + 10) + ".1"))
                .toList();
        journal.add(many);
        many.forEach(one -> journal.forget(one.name()));
      }
      journal.add(List.of(entry("3.1")));
    }
    assertThat(Files.size(home.resolve("journal"))).isEqualTo(1 << 20);
    assertThat(known()).containsExactly("1.1", "3.1");
  }
}
