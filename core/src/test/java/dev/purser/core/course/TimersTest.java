package dev.purser.core.course;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class TimersTest {
  private record Alarm(long at, int run, Timers.Kind kind) {}

  private static final Comparator<Alarm> IN_ORDER =
      Comparator.comparingLong(Alarm::at).thenComparingInt(Alarm::run).thenComparing(Alarm::kind);

  @Test
  void alarmsRingInTheirOrderHoweverTheyWereSet() {
    SplittableRandom random = new SplittableRandom(3);
    for (int round = 0; round < 50; round++) {
      Timers timers = new Timers();
      List<Alarm> all = new ArrayList<>();
      for (int i = 0; i < 200; i++) {
        Timers.Kind kind = Timers.Kind.values()[random.nextInt(Timers.Kind.values().length)];
        Alarm alarm = new Alarm(random.nextInt(20), random.nextInt(10), kind);
        all.add(alarm);
        timers.add(alarm.at(), alarm.run(), alarm.kind());
        if (random.nextInt(4) == 0) {
          all.remove(all.stream().min(IN_ORDER).orElseThrow());
          timers.removeNext();
        }
      }
      Timers copy = new Timers(timers);
      all.sort(IN_ORDER);
      assertThat(drain(timers)).isEqualTo(all);
      assertThat(drain(copy)).isEqualTo(all);

      assertThat(timers.nextAt()).isEqualTo(Long.MAX_VALUE);
    }
  }

  private static List<Alarm> drain(Timers timers) {
    List<Alarm> rung = new ArrayList<>();
    while (timers.nextAt() != Long.MAX_VALUE) {
      rung.add(new Alarm(timers.nextAt(), timers.nextRun(), timers.nextKind()));
      timers.removeNext();
    }
    return rung;
  }
}
