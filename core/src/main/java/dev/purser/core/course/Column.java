package dev.purser.core.course;

import java.util.Arrays;

/**
 * One thing that is known of every run, by the run's index. The getters and setters do not check
 * bounds beyond those of the array; {@link Runs} keeps all columns equally long.
 */
public abstract class Column {
  Column() {}

  abstract void resize(int length);

  abstract void copyFrom(Column other, int count);

  abstract void move(int from, int to);

  /** Lets go of what a run refers to, if anything. */
  void clear(int from, int to) {}

  /** Whole numbers that need eight bytes, such as epoch milliseconds. */
  public static final class Longs extends Column {
    private long[] values = {};

    /** A copy of the values of the first so many runs. */
    public long[] values(int count) {
      return Arrays.copyOf(values, count);
    }

    /** The value of a run. */
    public long get(int run) {
      return values[run];
    }

    /** Sets the value of a run. */
    public void set(int run, long value) {
      values[run] = value;
    }

    @Override
    void resize(int length) {
      values = Arrays.copyOf(values, length);
    }

    @Override
    void copyFrom(Column other, int count) {
      values = Arrays.copyOf(((Longs) other).values, count);
    }

    @Override
    void move(int from, int to) {
      values[to] = values[from];
    }
  }

  /** Whole numbers that need four bytes, or marks. */
  public static final class Ints extends Column {
    private int[] values = {};

    /** A copy of the values of the first so many runs. */
    public int[] values(int count) {
      return Arrays.copyOf(values, count);
    }

    /** The value of a run. */
    public int get(int run) {
      return values[run];
    }

    /** Sets the value of a run. */
    public void set(int run, int value) {
      values[run] = value;
    }

    @Override
    void resize(int length) {
      values = Arrays.copyOf(values, length);
    }

    @Override
    void copyFrom(Column other, int count) {
      values = Arrays.copyOf(((Ints) other).values, count);
    }

    @Override
    void move(int from, int to) {
      values[to] = values[from];
    }
  }

  /** Whole numbers of -32,768 to 32,767. */
  public static final class Shorts extends Column {
    private short[] values = {};

    /** The value of a run. */
    public int get(int run) {
      return values[run];
    }

    /** Sets the value of a run; what does not fit is brought to the nearest that does. */
    public void set(int run, int value) {
      values[run] = (short) Math.max(Short.MIN_VALUE, Math.min(Short.MAX_VALUE, value));
    }

    @Override
    void resize(int length) {
      values = Arrays.copyOf(values, length);
    }

    @Override
    void copyFrom(Column other, int count) {
      values = Arrays.copyOf(((Shorts) other).values, count);
    }

    @Override
    void move(int from, int to) {
      values[to] = values[from];
    }
  }

  /** Whole numbers of -128 to 127. */
  public static final class Bytes extends Column {
    private byte[] values = {};

    /** A copy of the values of the first so many runs. */
    public byte[] values(int count) {
      return Arrays.copyOf(values, count);
    }

    /** The value of a run. */
    public int get(int run) {
      return values[run];
    }

    /** Sets the value of a run, which must fit. */
    public void set(int run, int value) {
      values[run] = (byte) value;
    }

    @Override
    void resize(int length) {
      values = Arrays.copyOf(values, length);
    }

    @Override
    void copyFrom(Column other, int count) {
      values = Arrays.copyOf(((Bytes) other).values, count);
    }

    @Override
    void move(int from, int to) {
      values[to] = values[from];
    }
  }

  /** Values that never change, so that copies share them. */
  public static final class Refs<T> extends Column {
    private Object[] values = {};

    /** The value of a run. */
    @SuppressWarnings("unchecked")
    public T get(int run) {
      return (T) values[run];
    }

    /** Sets the value of a run. */
    public void set(int run, T value) {
      values[run] = value;
    }

    @Override
    void resize(int length) {
      values = Arrays.copyOf(values, length);
    }

    @Override
    void copyFrom(Column other, int count) {
      values = Arrays.copyOf(((Refs<?>) other).values, count);
    }

    @Override
    void move(int from, int to) {
      values[to] = values[from];
    }

    @Override
    void clear(int from, int to) {
      Arrays.fill(values, from, to, null);
    }
  }
}
