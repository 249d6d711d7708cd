package dev.purser.service.board;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.ArgumentMatchers.contains;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.timeout;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.verifyNoInteractions;
import static org.mockito.Mockito.when;

import dev.purser.core.definition.Definitions;
import dev.purser.service.Settings;
import dev.purser.service.active.LastResort;
import dev.purser.service.active.NotNow;
import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.test.util.ReflectionTestUtils;

/** An engine that cannot go on never ends alone, and nobody waits for it for ever. */
class EngineEndsTest {
  private final EngineRecords records = mock(EngineRecords.class);
  private final Lease lease = mock(Lease.class);
  private final LastResort lastResort = mock(LastResort.class);
  private final ApplicationEventPublisher publisher = mock(ApplicationEventPublisher.class);
  private Engine engine;

  @BeforeEach
  void start() {
    Settings settings = mock(Settings.class);
    when(settings.missedAfter()).thenReturn(Duration.ofMinutes(1));
    when(records.load())
        .thenReturn(new EngineRecords.Found(Definitions.none(), 0, List.of(), List.of(), 0));
    when(lease.tryTake()).thenReturn(true);
    engine =
        new Engine(
            records,
            lease,
            publisher,
            Clock.systemUTC(),
            settings,
            List.of(),
            lastResort,
            new SimpleMeterRegistry());
    engine.start();
  }

  @AfterEach
  void stop() {
    engine.stop();
  }

  private static Error error(String name) {
    return name.equals("deep") ? new StackOverflowError() : new OutOfMemoryError();
  }

  @ParameterizedTest
  @ValueSource(strings = {"deep", "full"})
  void anErrorInATaskEndsTheProcess(String name) {
    engine.ask(
        turn -> {
          throw error(name);
        });
    verify(lastResort, timeout(10_000)).end(contains("cannot go on"), any(Error.class));
  }

  @Test
  void anErrorWhileItWritesEndsTheProcess() {
    doAnswer(
            any -> {
              throw new NoClassDefFoundError("gone");
            })
        .when(records)
        .write(any(), anyLong());
    engine.ask(turn -> "done");
    verify(lastResort, timeout(10_000)).end(contains("cannot go on"), any(Error.class));
  }

  @Test
  void anInterruptionFromOutsideEndsTheProcessAndBeingStoppedDoesNot() {
    engine.stop();
    verifyNoInteractions(lastResort);
    engine.start();
    ((Thread) ReflectionTestUtils.getField(engine, "loop")).interrupt();
    verify(lastResort, timeout(10_000)).end(eq("the engine was interrupted"), any());
  }

  @Test
  void whatATaskRefusesIsNoError() {
    assertThatThrownBy(
            () ->
                engine
                    .ask(
                        turn -> {
                          throw new IllegalStateException("not so");
                        })
                    .join())
        .hasRootCauseMessage("not so");
    assertThat(engine.ask(turn -> "well").join()).isEqualTo("well");
    verifyNoInteractions(lastResort);
  }

  /** The record of a turn takes for ever: whoever asked behind it is told that nothing was done. */
  @Test
  void whoeverIsNotAnsweredInTimeIsToldWhetherItMayHaveBeenDone() throws Exception {
    CountDownLatch stuck = new CountDownLatch(1);
    CountDownLatch writes = new CountDownLatch(1);
    doAnswer(
            any -> {
              writes.countDown();
              return stuck.await(60, TimeUnit.SECONDS);
            })
        .when(records)
        .write(any(), anyLong());
    Asked<String> begun = new Asked<>(turn -> "a");
    Asked<String> behind = new Asked<>(turn -> "b");
    begun.begun().set(true);
    CompletableFuture<String> first = begun.inTime(50);
    CompletableFuture<String> second = behind.inTime(50);
    assertThatThrownBy(first::join)
        .cause()
        .isInstanceOf(NotNow.class)
        .hasMessageContaining("look whether it was done");
    assertThatThrownBy(second::join)
        .cause()
        .isInstanceOf(NotNow.class)
        .hasMessageContaining("nothing was done");
    assertThat(behind.begun()).isTrue(); // so the engine leaves it out
    engine.ask(turn -> "held up");
    assertThat(writes.await(20, TimeUnit.SECONDS)).isTrue();
    stuck.countDown();
  }
}
