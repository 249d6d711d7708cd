package dev.purser.service.container;

import dev.purser.remote.cluster.Cluster;
import dev.purser.remote.cluster.ClusterTrouble;
import dev.purser.service.output.OutputStore;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.Reports;
import java.nio.charset.StandardCharsets;

/**
 * Brings the log of one attempt's pod into its output, piece by piece: each look goes on after the
 * last line, by the time that the cluster wrote before it. After a crash so many lines are passed
 * over as were kept: nothing but the log is in the output.
 */
final class ContainerLog {
  private static final int PIECE = 64 * 1024;

  private final Attempt attempt;
  private final Reports reports;
  private final long most;
  private String last = "";

  /** Lines with the time {@code last} that were taken. */
  private int withLast;

  private long toSkip;
  private long kept;

  ContainerLog(Attempt attempt, OutputStore outputs, Reports reports, long most) {
    this.attempt = attempt;
    this.reports = reports;
    this.most = most;
    byte[] before =
        outputs.read(attempt.id(), attempt.number(), 0, (int) Math.min(most, 1 << 30)).data();
    this.kept = before.length;
    for (byte one : before) {
      toSkip += one == '\n' ? 1 : 0;
    }
  }

  /** Takes what is new. */
  synchronized void take(Cluster cluster, String namespace, String pod) throws ClusterTrouble {
    if (kept >= most) {
      return;
    }
    Taking taking = new Taking();
    cluster.log(namespace, pod, second(last), taking::take);
    taking.flush();
  }

  /** The second of a time: a cluster reads no finer ones. */
  private static String second(String time) {
    return time.replaceFirst("\\.\\d+", "");
  }

  /** One look at the log. */
  private final class Taking {
    private final String before = last;
    private final StringBuilder piece = new StringBuilder();
    private int same = withLast;

    boolean take(String time, String line) {
      int order = before.isEmpty() ? 1 : time.compareTo(before);
      if (order < 0 || (order == 0 && same-- > 0)) {
        return true; // it was taken before
      }
      withLast = time.equals(last) ? withLast + 1 : 1;
      last = time;
      if (toSkip > 0) {
        toSkip--;
        return true;
      }
      piece.append(line).append('\n');
      if (piece.length() >= PIECE) {
        flush();
      }
      return kept < most;
    }

    void flush() {
      if (!piece.isEmpty()) {
        String text = piece.toString();
        reports.output(attempt, text);
        kept += text.getBytes(StandardCharsets.UTF_8).length;
        piece.setLength(0);
      }
    }
  }
}
