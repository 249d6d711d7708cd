package dev.purser.service.board;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** People come first, and each line stays in order. */
class InboxTest {
  private final Inbox<String> inbox = new Inbox<>(2, 3);

  @Test
  void whatPeopleAskComesBeforeNewsAndBothStayInOrder() throws InterruptedException {
    inbox.tell("n1");
    inbox.ask("a1");
    inbox.tell("n2");
    inbox.ask("a2");
    assertThat(inbox.size()).isEqualTo(4);
    assertThat(inbox.take(0, 3)).containsExactly("a1", "a2", "n1");
    assertThat(inbox.take(0, 3)).containsExactly("n2");
    assertThat(inbox.take(0, 3)).isEmpty();
  }

  @Test
  void aFullLineTakesNoMoreAndTheOtherStillDoes() throws InterruptedException {
    for (String one : List.of("n1", "n2", "n3")) {
      assertThat(inbox.tell(one)).isTrue();
    }
    assertThat(inbox.tell("n4")).isFalse();
    assertThat(inbox.ask("a1")).isTrue();
    inbox.take(0, 10);
    assertThat(inbox.tell("n4")).isTrue();
  }

  @Test
  void whoWaitsIsWokenByTheFirstThatComes() throws Exception {
    CompletableFuture<List<String>> taken =
        CompletableFuture.supplyAsync(
            () -> {
              try {
                return inbox.take(30_000, 10);
              } catch (InterruptedException e) {
                throw new IllegalStateException(e);
              }
            });
    Thread.sleep(50);
    inbox.tell("n1");
    assertThat(taken.get(5, TimeUnit.SECONDS)).containsExactly("n1");
  }
}
