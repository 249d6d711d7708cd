package dev.purser.core.course;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.reflect.Field;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.function.IntPredicate;
import org.junit.jupiter.api.Test;

/** No column of runs is forgotten, however runs come, move and go. */
class RunsTest {
  private static List<Column> columns(Runs runs) throws ReflectiveOperationException {
    List<Column> all = new ArrayList<>();
    for (Field field : Runs.class.getFields()) {
      if (Column.class.isAssignableFrom(field.getType())) {
        all.add((Column) field.get(runs));
      }
    }
    assertThat(all).hasSizeGreaterThan(15);
    return all;
  }

  /** Sets a run's value in a column to one that tells which run and column it is. */
  @SuppressWarnings("unchecked")
  private static void set(Column column, int run, int mark) {
    if (column instanceof Column.Longs longs) {
      longs.set(run, mark);
    } else if (column instanceof Column.Ints ints) {
      ints.set(run, mark);
    } else if (column instanceof Column.Shorts shorts) {
      shorts.set(run, mark);
    } else if (column instanceof Column.Bytes bytes) {
      bytes.set(run, mark);
    } else {
      ((Column.Refs<Object>) column).set(run, mark);
    }
  }

  private static Object get(Column column, int run) {
    if (column instanceof Column.Longs longs) {
      return (int) longs.get(run);
    } else if (column instanceof Column.Ints ints) {
      return ints.get(run);
    } else if (column instanceof Column.Shorts shorts) {
      return shorts.get(run);
    } else if (column instanceof Column.Bytes bytes) {
      return bytes.get(run);
    }
    return ((Column.Refs<?>) column).get(run);
  }

  private static int mark(int column, int who) {
    return (column * 31 + who * 7) % 120;
  }

  @Test
  void everyColumnIsGrownCopiedAndClosedUpWithTheOthers() throws ReflectiveOperationException {
    SplittableRandom random = new SplittableRandom(11);
    Runs runs = new Runs();
    List<Integer> who = new ArrayList<>();
    for (int step = 0; step < 400; step++) {
      int run = runs.add();
      who.add(step);
      List<Column> columns = columns(runs);
      for (int c = 0; c < columns.size(); c++) {
        set(columns.get(c), run, mark(c, step));
      }
      if (random.nextInt(20) == 0) {
        runs = new Runs(runs);
      }
      if (random.nextInt(25) == 0) {
        boolean[] stays = new boolean[who.size()];
        List<Integer> left = new ArrayList<>();
        for (int i = 0; i < stays.length; i++) {
          stays[i] = random.nextInt(3) > 0;
          if (stays[i]) {
            left.add(who.get(i));
          }
        }
        IntPredicate kept = i -> stays[i];
        runs.keep(kept);
        who = left;
      }
      assertThat(runs.count()).isEqualTo(who.size());
    }
    List<Column> columns = columns(runs);
    for (int c = 0; c < columns.size(); c++) {
      for (int run = 0; run < who.size(); run++) {
        assertThat(get(columns.get(c), run)).isEqualTo(mark(c, who.get(run)));
      }
    }
  }

  @Test
  void whatDoesNotFitAShortIsBroughtToTheNearestThatDoes() {
    Column.Shorts shorts = new Column.Shorts();
    shorts.resize(2);
    shorts.set(0, 1_000_000);
    shorts.set(1, -1_000_000);
    assertThat(shorts.get(0)).isEqualTo(Short.MAX_VALUE);
    assertThat(shorts.get(1)).isEqualTo(Short.MIN_VALUE);
  }
}
