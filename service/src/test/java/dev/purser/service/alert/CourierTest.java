package dev.purser.service.alert;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.atMostOnce;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.timeout;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

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
  private final Outbox outbox = mock(Outbox.class);
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
    AlertRow alert = new AlertRow();
    alert.id = 3L;
    Outbox.Receiver desk = new Outbox.Receiver("mail", "desk@brannoch.example");
    when(outbox.receivers(any(), anyInt())).thenReturn(List.of(desk)).thenReturn(List.of());
    when(outbox.due(eq(desk), any(), anyInt())).thenReturn(List.of(delivery));
    when(outbox.told(delivery)).thenReturn(Told.of(alert, java.util.Optional.empty()));
    when(channel.name()).thenReturn("mail");
    return new Courier(
        outbox,
        List.of(channel),
        () -> true,
        Clock.fixed(NOW, ZoneOffset.UTC),
        new SimpleMeterRegistry());
  }

  @Test
  void aDeliveryThatSucceedsIsNotedAndKeepsItsIdForEveryTry() throws Channel.DeliveryFailed {
    Courier courier = courier(4);
    courier.start();
    verify(outbox, timeout(5_000)).delivered(5, NOW);
    verify(channel).deliver(any(), eq("desk@brannoch.example"), eq("alert-3-5"));
    courier.stop();
  }

  @Test
  void oneThatFailsIsTriedAgainLaterWithTheReasonKept() throws Channel.DeliveryFailed {
    Courier courier = courier(2);
    doThrow(new Channel.DeliveryFailed("mailbox is full", null))
        .when(channel)
        .deliver(any(), anyString(), anyString());
    courier.start();
    verify(outbox, timeout(5_000)).failed(5, NOW.plusSeconds(8), "mailbox is full");
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
        .deliver(any(), eq("slow@brannoch.example"), anyString());
    courier.start();
    verify(outbox, timeout(5_000).atLeastOnce()).delivered(5, NOW);
    verify(channel, atMostOnce()).deliver(any(), eq("slow@brannoch.example"), anyString());
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
