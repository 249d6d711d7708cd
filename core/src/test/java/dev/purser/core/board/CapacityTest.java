package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Who gets units of a capacity, and who waits for them. */
class CapacityTest {
  private static Pier pier(String capacity, String jobs) {
    Definitions definitions =
        Pier.read(
            "host: quay-north\n",
            "capacity: slots\n" + capacity,
            "stream: night\nschedule: { days: every day, at: \"21:30\", zone: Europe/Oslo }\njobs:\n"
                + jobs.indent(2));
    return new Pier(definitions);
  }

  private static List<String> started(Pier pier) {
    return pier.given(Instruction.StartAttempt.class).stream()
        .map(start -> pier.board.run(start.run()).orElseThrow().run().reference().job())
        .toList();
  }

  @Test
  void priorityComesFirstThenPlannedTime() {
    Pier pier =
        pier(
            "units: 1\n",
            """
            a: { host: quay-north, run: x, takes: { slots: 1 } }
            b: { host: quay-north, run: x, takes: { slots: 1 }, not-before: "21:35" }
            c: { host: quay-north, run: x, takes: { slots: 1 }, not-before: "21:34" }
            d: { host: quay-north, run: x, takes: { slots: 1 }, not-before: "21:36", priority: 70 }
            """);
    pier.at(0).at(10).finishAll();
    assertThat(started(pier)).containsExactly("a", "d", "c", "b");
  }

  @Test
  void aPointOfPriorityCountsAsAMinuteOfWaitingSoThatNoneStarves() {
    Pier pier =
        pier(
            "units: 1\n",
            """
            holder: { host: quay-north, run: x, takes: { slots: 1 }, priority: 100 }
            low: { host: quay-north, run: x, takes: { slots: 1 }, priority: 40 }
            high: { host: quay-north, run: x, takes: { slots: 1 }, priority: 60, not-before: "21:51" }
            """);
    pier.at(0).at(30).finishAll();
    assertThat(started(pier))
        .as("21 minutes later, 20 points")
        .containsExactly("holder", "low", "high");
  }

  @Test
  void nobodyOvertakesARunThatNeedsMoreUnits() {
    Pier pier =
        pier(
            "units: 3\n",
            """
            a: { host: quay-north, run: x, takes: { slots: 2 } }
            big: { host: quay-north, run: x, takes: { slots: 3 }, not-before: "21:31" }
            small: { host: quay-north, run: x, takes: { slots: 1 }, not-before: "21:32" }
            """);
    pier.at(0).at(5);
    assertThat(started(pier)).containsExactly("a");
    assertThat(pier.why("small"))
        .contains("where 1 of 3 are free", "before it in line: night/big@");
    assertThat(pier.why("big")).contains("it needs 3 of capacity slots", "held by night/a@");
    pier.act("big", Action.HOLD);
    assertThat(started(pier)).containsExactly("a", "small");
  }

  @Test
  void aCapacityIsChangedWithEffectAtOnceAndNothingIsTakenFromThoseWhoHoldIt() {
    Pier pier =
        pier(
            "units: 2\n",
            """
            a: { host: quay-north, run: x, takes: { slots: 1 } }
            b: { host: quay-north, run: x, takes: { slots: 1 } }
            c: { host: quay-north, run: x, takes: { slots: 1 } }
            """);
    pier.at(0);
    pier.apply(new BoardEvent.CapacitySet(pier.board.now(), "slots", 1));
    assertThat(pier.board.capacity("slots"))
        .satisfies(
            state -> {
              assertThat(state.units()).isEqualTo(1);
              assertThat(state.taken()).isEqualTo(2);
              assertThat(state.holders()).containsExactly(pier.id("a"), pier.id("b"));
              assertThat(state.line()).containsExactly(pier.id("c"));
            });
    pier.begin("a").end("a", 0);
    assertThat(pier.state("c")).isEqualTo(RunState.WAITING);
    pier.apply(new BoardEvent.CapacitySet(pier.board.now(), "slots", 0));
    assertThat(pier.why("c")).contains("where 0 of 0 are free");
    assertThat(pier.board.why(pier.id("c")).hangsOnPerson()).isTrue();
    pier.apply(new BoardEvent.CapacitySet(pier.board.now(), "slots", -1));
    assertThat(pier.state("c")).isEqualTo(RunState.STARTING);
  }

  @Test
  void thereAreMoreUnitsAtSomeTimesOfDay() {
    Pier pier =
        pier(
            "units: 1\nzone: Europe/Oslo\nspans: [{ from: \"21:40\", to: \"06:00\", units: 3 }]\n",
            """
            a: { host: quay-north, run: x, takes: { slots: 1 } }
            b: { host: quay-north, run: x, takes: { slots: 1 } }
            c: { host: quay-north, run: x, takes: { slots: 2 } }
            """);
    pier.at(0).at(9);
    assertThat(started(pier)).containsExactly("a");
    pier.at(10);
    assertThat(started(pier)).containsExactly("a", "b");
    pier.begin("a").end("a", 0);
    assertThat(pier.state("c")).isEqualTo(RunState.STARTING);
  }

  @Test
  void aRunThatNeedsTwoThingsHoldsUpOnlyWhatItLacksAndIsKeptWhatItOnceLacked() {
    Definitions definitions =
        Pier.read(
            "host: quay-north\n---\ncapacity: x\nunits: 1\n---\ncapacity: y\nunits: 1\n",
            """
            stream: night
            schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
            jobs:
              holder: { host: quay-north, run: x, takes: { x: 1 } }
              both: { host: quay-north, run: x, takes: { x: 1, y: 1 }, not-before: "21:31" }
              only-y: { host: quay-north, run: x, takes: { y: 1 }, not-before: "21:32" }
              only-x: { host: quay-north, run: x, takes: { x: 1 }, not-before: "21:33" }
            """);
    Pier pier = new Pier(definitions);
    pier.at(0).at(5);
    assertThat(started(pier)).containsExactly("holder", "only-y");
    pier.begin("holder").end("holder", 0);
    assertThat(started(pier)).as("x is kept for both, which lacks y now").endsWith("only-y");
    assertThat(pier.why("only-x")).contains("before it in line: night/both@");
    pier.begin("only-y").end("only-y", 0);
    assertThat(started(pier)).endsWith("both");
    pier.finishAll();
    assertThat(pier.state("only-x")).isEqualTo(RunState.SUCCEEDED);
  }

  @Test
  void whoNeedsMoreThanThereIsHoldsNobodyUp() {
    Pier pier =
        pier(
            "units: 2\n",
            """
            holder: { host: quay-north, run: x, takes: { slots: 1 } }
            big: { host: quay-north, run: x, takes: { slots: 2 }, not-before: "21:31" }
            small: { host: quay-north, run: x, takes: { slots: 1 }, not-before: "21:32" }
            """);
    pier.at(0).at(3);
    assertThat(started(pier)).as("big is first in line").containsExactly("holder");
    pier.apply(new BoardEvent.CapacitySet(pier.board.now(), "slots", 1));
    pier.begin("holder").end("holder", 0);
    assertThat(started(pier)).containsExactly("holder", "small");
    assertThat(pier.board.why(pier.id("big")).hangsOnPerson()).isTrue();
    pier.apply(new BoardEvent.CapacitySet(pier.board.now(), "slots", 3));
    assertThat(started(pier)).endsWith("big");
  }

  @Test
  void whatIsDueAtOnceStartsInTheOrderOfTheLineWhateverTheFile() {
    Pier pier =
        pier(
            "units: 1\n",
            """
            low: { host: quay-north, run: x, takes: { slots: 1 }, priority: 10 }
            middle: { host: quay-north, run: x, takes: { slots: 1 } }
            high: { host: quay-north, run: x, takes: { slots: 1 }, priority: 90 }
            """);
    pier.at(0).finishAll();
    assertThat(started(pier)).containsExactly("high", "middle", "low");
  }

  @Test
  void aRunWhoseHostIsAwayHoldsUpNobody() {
    Pier pier =
        new Pier(
            Pier.read(
                "host: quay-north\n---\nhost: quay-south\n---\ncapacity: slots\nunits: 1\n",
                """
                stream: night
                schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
                jobs:
                  holder: { host: quay-north, run: x, takes: { slots: 1 } }
                  far: { host: quay-south, run: x, takes: { slots: 1 }, priority: 90 }
                  near: { host: quay-north, run: x, takes: { slots: 1 }, priority: 10 }
                """));
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-south"));
    pier.at(0);
    pier.begin("holder").end("holder", 0);
    assertThat(started(pier)).containsExactly("holder", "near");
    pier.apply(new BoardEvent.HostSeen(pier.board.now(), "quay-south", java.util.Set.of()));
    assertThat(pier.why("far")).contains("held by night/near@");
    pier.begin("near").end("near", 0);
    assertThat(pier.state("far")).isEqualTo(RunState.STARTING);
  }

  @Test
  void aChangedPriorityCountsAtOnce() {
    Pier pier =
        pier(
            "units: 1\n",
            """
            a: { host: quay-north, run: x, takes: { slots: 1 } }
            b: { host: quay-north, run: x, takes: { slots: 1 } }
            c: { host: quay-north, run: x, takes: { slots: 1 } }
            """);
    pier.at(0);
    pier.act("c", Action.PRIORITY, 90);
    pier.begin("a").end("a", 0);
    assertThat(pier.state("c")).isEqualTo(RunState.STARTING);
    assertThat(pier.act("b", Action.PRIORITY, 101))
        .anySatisfy(given -> assertThat(given.toString()).contains("0 to 100"));
  }
}
