package dev.purser.core.parcel;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.SourceFile;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Names put in their place in another environment, and nothing else. */
class NameMapTest {
  private static final NameMap MAP =
      NameMap.read(
          """
          hosts: { quay: pier, depot: store }
          host-groups: { quays: piers }
          connections: { office: head-office }
          calendars: { brannoch: skerry }
          recipients: { desk: watch }
          parameters: { a/b: { deck: main } }
          """);

  private static Document read(String text) {
    DefinitionReader.Reading reading =
        DefinitionReader.read(List.of(new SourceFile("a.yaml", text)));
    assertThat(reading.problems()).isEmpty();
    return reading.documents().get(0);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          { host: quay, run: ./x quay }                    | { host: pier, run: ./x quay }
          { host: "quay", run: ./x } # the quay            | { host: "pier", run: ./x } # the quay
          { host: any of quays, run: ./x }                 | { host: any of piers, run: ./x }
          { host: quay-north, run: ./x }                   | { host: quay-north, run: ./x }
          { host: quay, days: business days of brannoch, run: x } | { host: pier, days: business days of skerry, run: x }
          { sql: select 1, database: office }              | { sql: select 1, database: head-office }
          { approve: Shall it?, title: quay }              | { approve: Shall it?, title: quay }
          """)
  void aNameIsMappedWhereItIsMeant(String job, String expected) {
    String head = "# quay\nstream: a/b\ntitle: To the quay 🚢 of brannoch\nowner: desk\n";
    String text = MAP.in(read(head + "jobs:\n  quay: " + job + "\n"), List.of());
    assertThat(text)
        .isEqualTo(
            head.replace("# quay\n", "").replace("desk", "watch")
                + "jobs:\n  quay: "
                + expected
                + "\n");
  }

  @Test
  void valuesAreThoseOfThereWhereTheyAreGivenHere() {
    assertThat(
            MAP.in(
                read(
                    "stream: a/b\nparameters: { deck: all, other: x }\n"
                        + "jobs: { j: { host: far, run: x } }\n"),
                List.of()))
        .contains("{ deck: main, other: x }");
  }

  @Test
  void packingTakesWhatIsNeededButForWhatEachEnvironmentHasOfItsOwn() {
    Definitions all =
        Definitions.of(
            DefinitionReader.read(
                    List.of(
                        new SourceFile(
                            "a.yaml",
                            """
                            host: quay
                            ---
                            recipient: desk
                            mail: [a@b.example]
                            ---
                            capacity: slots
                            units: 2
                            ---
                            stream: a/first
                            jobs: { j: { host: quay, run: x, takes: { slots: 1 } } }
                            ---
                            stream: a/then
                            owner: desk
                            jobs: { j: { host: quay, run: x, waits-for: a/first/j succeeded } }
                            """)))
                .documents());
    Named then = new Named(Kind.STREAM, "a/then");
    Packing.Packed alone = Packing.pack(all, List.of(then), false);
    assertThat(alone.documents()).extracting(Document::name).containsExactly("a/then");
    assertThat(alone.expected())
        .extracting(Named::toString)
        .containsExactly("stream a/first", "host quay", "recipient desk");
    Packing.Packed whole = Packing.pack(all, List.of(then), true);
    assertThat(whole.documents())
        .extracting(Document::name)
        .containsExactly("a/first", "a/then", "slots");
    assertThat(whole.expected())
        .extracting(Named::toString)
        .containsExactly("host quay", "recipient desk");
  }
}
