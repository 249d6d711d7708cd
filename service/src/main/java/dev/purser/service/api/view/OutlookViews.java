package dev.purser.service.api.view;

import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.wire.api.Views;

/** Makes views of outlooks. */
public final class OutlookViews {
  private OutlookViews() {}

  /**
   * As the API shows it.
   *
   * @param planner knows whether the run's date lies after what its calendars are known to
   */
  public static Views.OutlookView view(RunOutlook outlook, Planner planner) {
    PlannedRun run = outlook.run().run();
    return new Views.OutlookView(
        run.reference().toString(),
        run.reference().stream(),
        run.job().title(),
        run.reference().date(),
        outlook.state().word(),
        run.due(),
        RunViews.word(run.shift()),
        RunViews.instant(outlook.start()),
        RunViews.instant(outlook.end()),
        RunViews.instant(outlook.earliestEnd()),
        RunViews.instant(outlook.latestEnd()),
        run.finishBy().orElse(null),
        run.finishBy().isPresent() && outlook.canSayLate() ? outlook.chanceLate() : null,
        outlook.host(),
        planner.isGuess(run.reference()),
        outlook.hangsOn().word(),
        outlook.ifAnswered(),
        outlook.samples(),
        run.zone().getId());
  }
}
