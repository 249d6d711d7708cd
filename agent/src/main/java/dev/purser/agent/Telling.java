package dev.purser.agent;

import dev.purser.wire.agent.FromAgent;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.function.Consumer;

/** Tells the service of attempts: that they began, their output, and their ends in order. */
final class Telling {
  private static final int PIECE = 64 * 1024;

  /** So many ends are told before the service has recorded the first of them. */
  private static final int WINDOW = 256;

  /** So much more output than is kept may lie on the disk. */
  private static final long SPARE_OUTPUT = 16 << 20;

  private final Consumer<FromAgent> out;
  private final Deque<Followed> toTell = new ArrayDeque<>();
  private int told;

  Telling(Consumer<FromAgent> out) {
    this.out = out;
  }

  /** A new connection knows nothing of what was told over the old one. */
  void startOver() {
    synchronized (toTell) {
      toTell.clear();
      told = 0;
    }
  }

  /** Tells that it has begun. Whoever calls holds the attempt. */
  void began(Followed one) {
    one.beganTold = true;
    out.accept(new FromAgent.Began(one.run, one.attempt, one.began));
  }

  /** Has its end told in its turn, by {@link #ends}. Whoever calls holds the attempt. */
  void end(Followed one) {
    one.endTold = true;
    synchronized (toTell) {
      toTell.add(one);
    }
  }

  /** The service has one of the ends on record. */
  void recorded() {
    synchronized (toTell) {
      told = Math.max(0, told - 1);
    }
    ends();
  }

  /** Ends go out in order, no more at a time than the service can be expected to hold. */
  void ends() {
    while (true) {
      Followed next;
      synchronized (toTell) {
        if (told >= WINDOW || toTell.isEmpty()) {
          return;
        }
        next = toTell.poll();
        told++;
      }
      synchronized (next) {
        byte[] all = isWithEnd(next) ? next.files.read(0, PIECE) : null;
        FromAgent.Ended ended = next.ended;
        out.accept(
            new FromAgent.Ended(
                ended.run(),
                ended.attempt(),
                ended.how(),
                ended.code(),
                ended.note(),
                next.began > 0 ? next.began : ended.began(),
                ended.at(),
                ended.values(),
                all));
      }
    }
  }

  /** Whether all its output goes out together with its end. */
  static boolean isWithEnd(Followed one) {
    long length = one.files.outputLength();
    return !one.pieceTold && length <= PIECE && length <= one.keepOutput;
  }

  /** Tells the next piece of its output, if there is one. Whoever calls holds the attempt. */
  void output(Followed one) {
    AttemptFiles files = one.files;
    long length = files.outputLength();
    long keep = Math.min(length, one.keepOutput);
    if (one.taken >= one.keepOutput && length > one.keepOutput + SPARE_OUTPUT) {
      one.dropped += files.cutOutput(one.keepOutput);
    }
    byte[] data = files.read(one.taken, (int) Math.min(PIECE, keep - one.taken));
    boolean complete = one.ended != null && one.taken + data.length >= keep;
    if (data.length > 0 || complete) {
      one.pieceOut = true;
      one.pieceTold = true;
      out.accept(
          new FromAgent.Output(
              one.run, one.attempt, one.taken, data, complete, length + one.dropped));
    }
  }
}
