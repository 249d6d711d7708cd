package dev.purser.service.commitment;

import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.icalendar.CalendarWriter;
import dev.purser.core.learning.UsualEnds;
import dev.purser.core.plan.Planner;
import dev.purser.service.board.Engine;
import dev.purser.service.outlook.OutlookKeeper;
import dev.purser.service.plan.PlanKeeper;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import org.springframework.stereotype.Component;

/** What a commitment promises of the coming dates, for people's own calendar programs. */
@Component
public class PromiseFeed {
  private final Engine engine;
  private final OutlookKeeper outlooks;
  private final Commitments commitments;
  private final Standings standings;
  private final PlanKeeper plan;

  PromiseFeed(
      Engine engine,
      OutlookKeeper outlooks,
      Commitments commitments,
      Standings standings,
      PlanKeeper plan) {
    this.engine = engine;
    this.outlooks = outlooks;
    this.commitments = commitments;
    this.standings = standings;
    this.plan = plan;
  }

  /**
   * An entry for each promise, from its likely or usual end to the time that is promised.
   *
   * @param days how many business dates from today
   */
  public List<CalendarWriter.Entry> entries(Commitment commitment, int days) {
    Map<String, PromiseOutlook> known = new HashMap<>();
    outlooks.promises().forEach(one -> known.put(one.promised().reference(), one));
    List<UsualEnds.Kept> earlier = commitments.earlier(commitment);
    List<CalendarWriter.Entry> entries = new ArrayList<>();
    for (Promised promised : coming(commitment, days)) {
      PromiseOutlook outlook = known.get(promised.reference());
      OptionalLong usual = commitments.usualEnd(promised, earlier);
      Instant by = promised.by().orElse(promised.begin());
      Instant end =
          outlook != null && outlook.end() > 0
              ? Instant.ofEpochMilli(outlook.end())
              : usual.isPresent() ? Instant.ofEpochMilli(usual.getAsLong()) : by;
      String text =
          outlook != null
              ? standings.sentence(outlook)
              : usual.isPresent() ? "from its usual end to the promise" : "the promise";
      entries.add(
          new CalendarWriter.Entry(
              promised.reference(),
              commitment.title(),
              end.isBefore(by) ? end : by,
              end.isBefore(by) ? by : end,
              text));
    }
    return entries;
  }

  private List<Promised> coming(Commitment commitment, int days) {
    Definitions definitions = engine.definitions();
    Planner planner = new Planner(definitions);
    Promises promises = outlooks.promising(definitions);
    List<Promised> found = new ArrayList<>();
    for (int day = 0; day < days; day++) {
      LocalDate date = plan.today().plusDays(day);
      found.addAll(promises.of(commitment, date, promises.planned(commitment, date, planner)));
    }
    return found;
  }
}
