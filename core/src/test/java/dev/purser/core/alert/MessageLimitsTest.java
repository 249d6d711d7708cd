package dev.purser.core.alert;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.Map;
import org.junit.jupiter.api.Test;

class MessageLimitsTest {
  @Test
  void whatIsUrgentCountsByItself() {
    MessageLimits limits = new MessageLimits(10, 0, 500, 3);
    assertThat(limits.windows(false))
        .isEqualTo(Map.of(Duration.ofHours(1), 10, Duration.ofDays(7), 500));
    assertThat(limits.windows(true)).isEqualTo(Map.of(Duration.ofHours(1), 3));
    assertThat(limits.inWords()).isEqualTo("10 an hour, 500 a week, 3 urgent an hour");
    assertThat(MessageLimits.NONE.windows(false)).isEmpty();
    assertThat(MessageLimits.NONE.windows(true)).isEmpty();
    assertThat(MessageLimits.NONE.inWords()).isEmpty();
  }
}
