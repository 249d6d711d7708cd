package dev.purser.service.board;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.HoldScope;
import dev.purser.service.OnDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Hold;
import dev.purser.service.action.Refused;
import dev.purser.service.action.Release;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.service.run.RunRecords;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.test.util.ReflectionTestUtils;

/**
 * What comes in together is done together; what cannot be recorded of it keeps back nothing else.
 */
class BatchTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private AuditTrail audit;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private PlanKeeper plan;
  @Autowired private RunRecords runs;
  @Autowired private AsideTroubles watch;
  @Autowired private JdbcTemplate rows;

  /** Holds the engine, so that all that is asked meanwhile comes into one turn. */
  private CountDownLatch hold() throws InterruptedException {
    CountDownLatch held = new CountDownLatch(1);
    CountDownLatch go = new CountDownLatch(1);
    engine.ask(
        turn -> {
          held.countDown();
          try {
            return go.await(20, TimeUnit.SECONDS);
          } catch (InterruptedException e) {
            throw new IllegalStateException(e);
          }
        });
    assertThat(held.await(20, TimeUnit.SECONDS)).isTrue();
    return go;
  }

  private CompletableFuture<String> write(String about) {
    return engine.ask(
        turn -> {
          turn.write(
              "insert into audit (at, who, address, what, about, reason) values"
                  + " (now(), 'ida', '', 'batch', ?, '')",
              about);
          return about;
        });
  }

  private List<String> written(String about) {
    return audit.list(about, Long.MAX_VALUE, 100).stream().map(row -> row.about).toList();
  }

  @Test
  void whatCannotBeRecordedIsRefusedAndAllElseIsDoneOnce() throws Exception {
    CountDownLatch go = hold();
    List<CompletableFuture<String>> good = new ArrayList<>();
    for (int i = 0; i < 5; i++) {
      good.add(write("batch before " + i));
    }
    CompletableFuture<String> bad = write("x".repeat(5_000));
    for (int i = 0; i < 5; i++) {
      good.add(write("batch behind " + i));
    }
    go.countDown();
    for (CompletableFuture<String> one : good) {
      String about = one.get(30, TimeUnit.SECONDS);
      assertThat(written(about)).containsExactly(about);
    }
    assertThatThrownBy(() -> bad.get(30, TimeUnit.SECONDS))
        .cause()
        .isInstanceOf(NotRecorded.class)
        .hasMessageContaining("was not done");
    assertThat(engine.ask(turn -> "goes on").get(10, TimeUnit.SECONDS)).isEqualTo("goes on");
  }

  /**
   * Its caller was told that nothing was done: doing the rest once more must not do it after all.
   */
  @Test
  @SuppressWarnings("unchecked")
  void whatWasGivenUpBeforeItsTurnIsNotDoneWhenTheTurnIsDoneOnceMore() throws Exception {
    CountDownLatch go = hold();
    CompletableFuture<String> good = write("batch beside what was given up");
    String givenUp = "batch given up";
    Asked<String> late =
        new Asked<>(
            turn -> {
              turn.write(
                  "insert into audit (at, who, address, what, about, reason) values"
                      + " (now(), 'ida', '', 'batch', ?, '')",
                  givenUp);
              return givenUp;
            });
    assertThat(((Inbox<Asked<?>>) ReflectionTestUtils.getField(engine, "inbox")).ask(late))
        .isTrue();
    CompletableFuture<String> bad = write("w".repeat(5_000));
    assertThatThrownBy(() -> late.inTime(1).join()).hasMessageContaining("nothing was done");
    go.countDown();
    assertThat(good.get(30, TimeUnit.SECONDS)).isEqualTo("batch beside what was given up");
    assertThatThrownBy(() -> bad.get(30, TimeUnit.SECONDS)).cause().isInstanceOf(NotRecorded.class);
    assertThat(engine.ask(turn -> "goes on").get(10, TimeUnit.SECONDS)).isEqualTo("goes on");
    assertThat(written(givenUp)).isEmpty();
    assertThat(late.answer()).isNotDone();
  }

  @Test
  void whatGoesWrongWithoutBeingToldIsRefusedToo() {
    assertThatThrownBy(() -> write("y".repeat(5_000)).get(30, TimeUnit.SECONDS))
        .cause()
        .isInstanceOf(NotRecorded.class);
  }

  /** News cannot be refused: whoever tells it would tell it again, for ever. */
  @Test
  void newsThatCannotBeRecordedAreSaidInShort() throws Exception {
    String statement =
        "insert into audit (at, who, address, what, about, reason) values"
            + " (now(), 'ida', '', 'news', ?, '')";
    CompletableFuture<String> heard =
        engine.hear(
            turn -> {
              turn.write(statement, "z".repeat(5_000));
              return "whole";
            },
            turn -> {
              turn.write(statement, "news in short");
              return "in short";
            });
    assertThat(heard.get(30, TimeUnit.SECONDS)).isEqualTo("in short");
    assertThat(written("news in short")).containsExactly("news in short");
  }

  @Test
  void aKeyStartsOnceHoweverOftenItIsSaidInOneTurnAndNothingElse() throws Exception {
    publisher.publish(
        List.of(
            new SourceFile(
                "t.yaml",
                "host: keyed\n---\nstream: keyed\njobs: { x: { host: keyed, run: x } }\n")),
        Optional.empty(),
        IDA,
        "");
    Start wish = Start.of("keyed", Optional.empty(), plan.today());
    CountDownLatch go = hold();
    List<CompletableFuture<List<Long>>> asked = new ArrayList<>();
    for (int i = 0; i < 4; i++) {
      asked.add(
          CompletableFuture.supplyAsync(
              () -> actions.start(wish, Optional.of("night-1"), IDA, "twice")));
    }
    while (engine.backlog() < 4) {
      Thread.sleep(10);
    }
    go.countDown();
    List<Long> first = asked.get(0).get(30, TimeUnit.SECONDS);
    for (CompletableFuture<List<Long>> one : asked) {
      assertThat(one.get(30, TimeUnit.SECONDS)).isEqualTo(first).hasSize(1);
    }
    Start other = new Start(wish.stream(), wish.job(), false, wish.date().plusDays(1), Map.of());
    assertThatThrownBy(() -> actions.start(other, Optional.of("night-1"), IDA, ""))
        .hasRootCauseInstanceOf(Refused.class)
        .hasMessageContaining("give each request a key of its own");
    assertThat(actions.start(wish, Optional.of("night-1"), IDA, "")).isEqualTo(first);
  }

  /** A run whose start cannot be put on record is held; what is due beside it goes on. */
  @Test
  void aRunThatCannotBePutOnRecordIsHeldAndKeepsBackNothing() throws Exception {
    publisher.publish(
        List.of(
            new SourceFile(
                "f",
                "host: batch-pier\n---\nstream: batch/poison\njobs:\n"
                    + "  bad: { approve: Bad? }\n  good: { approve: Good? }\n")),
        Optional.empty(),
        IDA,
        "test");
    HoldScope stream = new HoldScope(HoldScope.Kind.STREAM, "batch/poison");
    actions.act(new Hold(stream), IDA, "");
    List<Long> ids =
        actions.start(
            Start.of("batch/poison", Optional.empty(), plan.today()), Optional.empty(), IDA, "");
    rows.execute(
        "create trigger poison before insert on moment for each row begin if new.note like"
            + " 'waits for an answer: Bad%' then signal sqlstate '22001'; end if; end");
    try {
      actions.act(new Release(stream), IDA, "");
      assertThat(engine.ask(turn -> "goes on").get(20, TimeUnit.SECONDS)).isEqualTo("goes on");
      long bad = run(ids, "bad");
      assertThat(hold(bad)).startsWith(Aside.HELD);
      long good = run(ids, "good");
      long asked = engine.look(board -> board.status(good).orElseThrow().asked());
      assertThat(asked).isPositive();
      assertThat(watch.wrong())
          .singleElement()
          .satisfies(one -> assertThat(one.reference()).startsWith("batch/poison/bad@"));
    } finally {
      rows.execute("drop trigger poison");
    }
  }

  private long run(List<Long> ids, String job) {
    return ids.stream()
        .filter(id -> runs.byId(id).orElseThrow().job.equals(job))
        .findFirst()
        .orElseThrow();
  }

  private String hold(long id) {
    return runs.byId(id).orElseThrow().hold;
  }
}
