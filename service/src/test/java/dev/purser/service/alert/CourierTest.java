package dev.purser.service.alert;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.atMostOnce;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.timeout;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import dev.purser.core.definition.Way;
import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CourierTest {
  private static final Instant NOW = Instant.parse("2027-03-04T03:00:00Z");
  private static final Way DESK = new Way("mail", "desk@brannoch.example", java.util.Map.of());
  private static final Way SLOW = new Way("mail", "slow@brannoch.example", java.util.Map.of());
  private final Outbox outbox = mock(Outbox.class);
  private final Messages messages = mock(Messages.class);
  private final Channel channel = mock(Channel.class);

  @ParameterizedTest
  @CsvSource({"0, 2", "1, 4", "2, 8", "5, 64", "9, 600", "100, 600"})
  void theWaitGrowsToTenMinutes(int tries, long seconds) {
    assertThat(Courier.waitAfter(tries)).hasSeconds(seconds);
  }

  private Courier courier(int tries) {
    DeliveryRow delivery = new DeliveryRow();
    delivery.id = 5L;
    delivery.alert = 3;
    delivery.channel = "mail";
    delivery.address = "desk@brannoch.example";
    delivery.tries = tries;
    Outbox.Receiver desk = new Outbox.Receiver("mail", "desk@brannoch.example");
    when(outbox.receivers(any(), anyInt())).thenReturn(List.of(desk)).thenReturn(List.of());
    when(outbox.due(eq(desk), any(), anyInt())).thenReturn(List.of(delivery));
    when(messages.way(any()))
        .thenAnswer(
            call ->
                new Way("mail", ((DeliveryRow) call.getArgument(0)).address, java.util.Map.of()));
    when(channel.name()).thenReturn("mail");
    return new Courier(
        outbox,
        messages,
        List.of(channel),
        () -> true,
        Clock.fixed(NOW, ZoneOffset.UTC),
        new SimpleMeterRegistry());
  }

  @Test
  void aDeliveryThatSucceedsIsNotedWithItsAnswer() throws Channel.DeliveryFailed {
    Courier courier = courier(4);
    when(channel.deliver(any(), any())).thenReturn("taken");
    courier.start();
    verify(outbox, timeout(5_000)).delivered(5, NOW, "taken");
    verify(channel).deliver(any(), eq(DESK));
    courier.stop();
  }

  @Test
  void oneThatFailsIsTriedAgainLaterWithTheReasonKept() throws Channel.DeliveryFailed {
    Courier courier = courier(2);
    doThrow(new Channel.DeliveryFailed("mailbox is full", null))
        .when(channel)
        .deliver(any(), any());
    courier.start();
    verify(outbox, timeout(5_000)).failed(any(), eq(NOW.plusSeconds(8)), eq("mailbox is full"));
    courier.stop();
  }

  @Test
  void whatIsGoneIsNotTriedAgain() throws Channel.DeliveryFailed {
    Courier courier = courier(0);
    doThrow(new Channel.Refused("answers 410")).when(channel).deliver(any(), any());
    courier.start();
    verify(outbox, timeout(5_000)).refused(5, "answers 410");
    courier.stop();
  }

  /** Twenty that hang for ever keep nobody else's alert back. */
  @Test
  void oneReceiverThatHangsDelaysNoOther() throws Channel.DeliveryFailed {
    Courier courier = courier(0);
    Outbox.Receiver slow = new Outbox.Receiver("mail", "slow@brannoch.example");
    Outbox.Receiver desk = new Outbox.Receiver("mail", "desk@brannoch.example");
    List<DeliveryRow> many =
        java.util.stream.LongStream.range(100, 120).mapToObj(CourierTest::toSlow).toList();
    when(outbox.due(eq(slow), any(), anyInt())).thenReturn(many);
    when(outbox.receivers(any(), anyInt())).thenReturn(List.of(slow, desk));
    java.util.concurrent.CountDownLatch hangs = new java.util.concurrent.CountDownLatch(1);
    doAnswer(
            call -> {
              hangs.await();
              return null;
            })
        .when(channel)
        .deliver(any(), eq(SLOW));
    courier.start();
    verify(outbox, timeout(5_000).atLeastOnce()).delivered(eq(5L), eq(NOW), any());
    verify(channel, atMostOnce()).deliver(any(), eq(SLOW));
    hangs.countDown();
    courier.stop();
  }

  private static DeliveryRow toSlow(long id) {
    DeliveryRow row = new DeliveryRow();
    row.id = id;
    row.alert = 3;
    row.channel = "mail";
    row.address = "slow@brannoch.example";
    return row;
  }
}
