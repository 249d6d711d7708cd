package dev.purser.service.handover;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.service.OnDatabase;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

class HandoversTest extends OnDatabase {
  @Autowired private Handovers handovers;

  @Test
  void aNoteIsSignedByBothAndSaysHowThingsStood() {
    HandoverRow note = handovers.write("ola", "the pump is out");
    HandoverRow last = handovers.last(Long.MAX_VALUE, 1).get(0);
    assertThat(last.id).isEqualTo(note.id);
    assertThat(last.standing).matches("\\d+ alerts? open, \\d+ of them .*; \\d+ runs? at work, .*");
    assertThat(last.taken).isNull();
    assertThat(handovers.take(note.id, "kari").orElseThrow().takenBy).isEqualTo("kari");
    assertThatThrownBy(() -> handovers.take(note.id, "berit"))
        .hasMessage("kari has taken over already");
    assertThat(handovers.take(Long.MAX_VALUE, "kari")).isEmpty();
  }

  /** Of several who sign at once one has it. */
  @Test
  void oneTakesOver() throws Exception {
    long note = handovers.write("ola", "who is first?").id;
    ExecutorService threads = Executors.newFixedThreadPool(4);
    List<Callable<Boolean>> tries =
        java.util.stream.IntStream.range(0, 4)
            .<Callable<Boolean>>mapToObj(
                i ->
                    () -> {
                      try {
                        return handovers.take(note, "person-" + i).isPresent();
                      } catch (IllegalStateException e) {
                        return false;
                      }
                    })
            .toList();
    int taken = 0;
    for (Future<Boolean> one : threads.invokeAll(tries)) {
      taken += one.get() ? 1 : 0;
    }
    threads.shutdown();
    assertThat(taken).isEqualTo(1);
  }
}
