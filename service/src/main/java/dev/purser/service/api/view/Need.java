package dev.purser.service.api.view;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.Urgency;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import dev.purser.service.alert.AlertRow;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.time.Instant;
import java.util.Optional;

/** Something that needs a person: an alert that nobody has taken on, or how a run stands. */
public record Need(
    Kind kind,
    String reference,
    long run,
    String title,
    String text,
    String page,
    Instant since,
    boolean important)
    implements Comparable<Need> {
  private static final double LIKELY = 0.5;
  private static final int MOST_PRESSING = AlertKind.FAILED.rank();

  /**
   * What is needed, or wrong.
   *
   * @param rank the lower, the more it presses
   */
  public record Kind(String word, String title, int rank) {
    public static final Kind APPROVAL = of(AlertKind.APPROVAL);
    static final Kind LIKELY_LATE = new Kind("likely-late", "Likely late", 45);
    static final Kind HELD = new Kind("held", "Held", 80);

    static Kind of(AlertKind kind) {
      return new Kind(kind.word(), kind.title(), kind.rank());
    }
  }

  /** An open alert. */
  public static Need of(AlertRow alert) {
    Kind kind =
        AlertKind.of(alert.kind).map(Kind::of).orElse(new Kind(alert.kind, alert.kind, 100));
    return new Need(
        kind,
        alert.reference,
        alert.run,
        alert.title,
        alert.text,
        alert.page(),
        alert.opened,
        Urgency.URGENT.word().equals(alert.urgency));
  }

  /** What a run needs, as it stands. */
  public static Optional<Need> of(RunView run) {
    if (isAsked(run)) {
      return Optional.of(of(run, Kind.APPROVAL, run.sentence()));
    }
    if (!run.hold().isEmpty() && run.state().equals(RunState.WAITING.word())) {
      return Optional.of(of(run, Kind.HELD, "It is " + run.hold()));
    }
    boolean isLikelyLate =
        run.chanceLate() != null
            && run.chanceLate() >= LIKELY
            && !run.alerts().contains(AlertKind.LATE.word());
    if (isLikelyLate) {
      String chance = Math.round(run.chanceLate() * 100) + " in 100";
      String text = "It is likely to miss its finish-by (" + chance + "). " + run.sentence();
      return Optional.of(of(run, Kind.LIKELY_LATE, text));
    }
    return Optional.empty();
  }

  private static Need of(RunView run, Kind kind, String text) {
    String title = run.streamTitle() + ": " + run.title();
    String page = "/runs/" + run.id();
    return new Need(kind, run.reference(), run.id(), title, text, page, run.since(), false);
  }

  /** Whether a run wants an answer. */
  public static boolean isAsked(RunView run) {
    return run.actions().contains(Action.APPROVE.word());
  }

  /**
   * As the API shows it.
   *
   * @param zone whose clock the text goes by
   */
  public Views.NeedView view(String zone) {
    boolean urgent = important || kind.rank() <= MOST_PRESSING;
    return new Views.NeedView(
        reference, run, title, text, kind.word(), kind.title(), urgent, page, since, zone);
  }

  private int pressing() {
    return important ? Math.min(kind.rank(), MOST_PRESSING) : kind.rank();
  }

  @Override
  public int compareTo(Need other) {
    int rank = Integer.compare(pressing(), other.pressing());
    return rank != 0 ? rank : since.compareTo(other.since);
  }
}
