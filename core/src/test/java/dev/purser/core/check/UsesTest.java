package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Where definitions of the demo world are used, beside a slow way that cannot be wrong. */
class UsesTest {
  private static Definitions world;

  @BeforeAll
  static void read() throws IOException {
    List<SourceFile> files = new ArrayList<>();
    try (var found = Files.walk(Path.of("../demo/world"))) {
      for (Path file : found.filter(one -> one.toString().matches(".*\\.(yaml|csv)")).toList()) {
        files.add(new SourceFile(file.toString(), Files.readString(file)));
      }
    }
    DefinitionCheck.Result result =
        DefinitionCheck.check(Definitions.none(), files, LocalDate.of(2027, 1, 4));
    assertThat(result.problems()).filteredOn(Problem::isError).isEmpty();
    world = result.definitions();
  }

  /** Whoever has a name that stands for nothing once a definition is taken away uses it. */
  private static Set<String> byTakingAway(Named one) {
    Definitions without = world.without(one.kind(), one.name());
    Set<String> users = new TreeSet<>();
    for (Document document : without.documents()) {
      for (Document.Mention mention : document.mentions()) {
        if (NameCheck.exists(world, mention) && !NameCheck.exists(without, mention)) {
          users.add(mention.user());
        }
      }
    }
    return users;
  }

  @Test
  void whatBreaksWithoutADefinitionIsAmongItsUses() {
    Uses uses = Uses.in(world);
    for (Document document : world.documents()) {
      Named one = Named.of(document);
      Set<String> found = new TreeSet<>();
      uses.of(one).forEach(use -> found.add(use.where()));
      Set<String> broken = byTakingAway(one);
      if (one.kind() == Kind.STREAM) { // a step of it leads into others as well
        assertThat(found.isEmpty()).as(one.toString()).isEqualTo(broken.isEmpty());
        continue;
      }
      assertThat(found).as(one.toString()).containsAll(broken);
      if (one.kind() != Kind.RECIPIENT && one.kind() != Kind.DUTY) {
        assertThat(broken).as(one.toString()).containsAll(found);
      }
    }
  }

  @Test
  void whoUsesAndWhatIsUsedAreTheSameSeenFromBothSides() {
    Uses uses = Uses.in(world);
    for (Document document : world.documents()) {
      Named one = Named.of(document);
      for (Uses.Use use : uses.of(one)) {
        assertThat(uses.neededBy(use.by())).contains(one);
        assertThat(use.by()).isNotEqualTo(one);
      }
    }
  }

  @Test
  void ownersUseTheirRecipients() {
    assertThat(Uses.in(world).of(new Named(Kind.RECIPIENT, "night-desk")))
        .extracting(Uses.Use::where)
        .contains("fleet/rosters");
  }

  @Test
  void whatIsThereToBeUsedAndIsNotIsLeftOver() {
    List<Named> unused = Uses.in(world).unused();
    assertThat(unused).noneMatch(one -> one.kind() == Kind.STREAM || one.kind() == Kind.HOST);
    Uses uses = Uses.in(world);
    assertThat(unused).allMatch(one -> uses.of(one).isEmpty());
  }
}
