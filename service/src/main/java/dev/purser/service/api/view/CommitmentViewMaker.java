package dev.purser.service.api.view;

import dev.purser.core.advice.Causes;
import dev.purser.core.advice.Course;
import dev.purser.core.advice.Helps;
import dev.purser.core.advice.Remedy;
import dev.purser.core.commitment.Promised;
import dev.purser.core.definition.Commitment;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.learning.UsualEnds;
import dev.purser.core.run.RunSpec;
import dev.purser.service.board.Engine;
import dev.purser.service.commitment.Commitments;
import dev.purser.service.commitment.Standings;
import dev.purser.wire.api.CommitmentViews;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.OptionalLong;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** Makes views of promises. */
@Component
public class CommitmentViewMaker {
  private static final int MOST_EARLIER = 90;

  private final Engine engine;
  private final Commitments commitments;
  private final Standings standings;

  CommitmentViewMaker(Engine engine, Commitments commitments, Standings standings) {
    this.engine = engine;
    this.commitments = commitments;
    this.standings = standings;
  }

  /** A promise as the API shows it. */
  public CommitmentViews.CommitmentView view(PromiseOutlook outlook) {
    return view(outlook, commitments.earlier(outlook.promised().commitment()));
  }

  /** What decides on a promise, as the API shows it. */
  public CommitmentViews.DecidingView view(Commitments.Deciding deciding) {
    PromiseOutlook outlook = deciding.outlook();
    Promised promised = outlook.promised();
    String end = promised.commitment().of();
    return new CommitmentViews.DecidingView(
        promised.reference(),
        promised.commitment().title(),
        engine.definitions().stream(end).isPresent() ? end : end.substring(0, end.lastIndexOf('/')),
        Standings.word(outlook),
        promised.by().orElse(null),
        RunViews.instant(outlook.end()),
        RunViews.instant(outlook.latestEnd()),
        promised.by().isPresent() && outlook.canSayLate() ? outlook.chanceLate() : null,
        deciding.chain().stream().map(run -> run.run().reference().toString()).toList());
  }

  private CommitmentViews.CommitmentView view(
      PromiseOutlook outlook, List<UsualEnds.Kept> earlier) {
    Promised promised = outlook.promised();
    Commitment commitment = promised.commitment();
    OptionalLong usual = commitments.usualEnd(promised, earlier);
    return new CommitmentViews.CommitmentView(
        promised.reference(),
        commitment.name(),
        commitment.title(),
        commitment.about(),
        commitment.department(),
        commitment.of(),
        "done " + commitment.promise().inWords(),
        promised.date(),
        promised.number(),
        promised.by().orElse(null),
        Standings.word(outlook),
        standings.sentence(outlook),
        promised.begin(),
        usual.isPresent() ? Instant.ofEpochMilli(usual.getAsLong()) : null,
        RunViews.instant(outlook.end()),
        RunViews.instant(outlook.earliestEnd()),
        RunViews.instant(outlook.latestEnd()),
        promised.by().isPresent() && outlook.canSayLate() ? outlook.chanceLate() : null,
        outlook.chanceFailed(),
        outlook.hangsOn().word(),
        outlook.ifAnswered(),
        commitment.important(),
        commitments.restsOn(commitments.lineage(commitment)),
        outlook.samples(),
        promised.zone().getId());
  }

  /**
   * A promise with its lineage and its record.
   *
   * @param helps whether it is worked out what would help, which takes a while
   */
  public CommitmentViews.CommitmentDetail detail(PromiseOutlook outlook, boolean helps) {
    Promised promised = outlook.promised();
    List<UsualEnds.Kept> earlier = commitments.earlier(promised.commitment());
    List<CommitmentViews.LineageRun> lineage = new ArrayList<>();
    List<CommitmentViews.CauseView> why = new ArrayList<>();
    List<CommitmentViews.HelpView> found = new ArrayList<>();
    if (commitments.isOnBoard(outlook)) {
      Commitments.Insight insight = commitments.insight(outlook);
      Course course = insight.course();
      course.legs().values().stream()
          .sorted(
              Comparator.comparingLong(
                      (Course.Leg leg) -> leg.start() == 0 ? Long.MAX_VALUE : leg.start())
                  .thenComparingLong(leg -> leg.run().due()))
          .forEach(leg -> lineage.add(leg(leg, course)));
      insight.causes().forEach(cause -> why.add(cause(cause)));
      if (helps && isInDanger(outlook)) {
        commitments.helps(outlook, course).forEach(help -> found.add(help(help, outlook)));
      }
    }
    List<CommitmentViews.KeptView> record =
        earlier.stream()
            .skip(Math.max(0, earlier.size() - MOST_EARLIER))
            .map(kept -> kept(kept, promised.zone()))
            .toList();
    return new CommitmentViews.CommitmentDetail(
        view(outlook, earlier),
        lineage,
        why,
        found,
        record,
        List.copyOf(commitments.lineage(promised.commitment()).cutOff()));
  }

  private static boolean isInDanger(PromiseOutlook outlook) {
    return switch (outlook.standing()) {
      case KEPT, MISSED -> false;
      case LATE, STALLED -> true;
      case OPEN ->
          outlook.canSayLate()
              && outlook.chanceLate() >= outlook.promised().commitment().warnAt() / 2;
    };
  }

  private CommitmentViews.LineageRun leg(Course.Leg leg, Course course) {
    RunSpec run = leg.run();
    String stream = run.run().reference().stream();
    return new CommitmentViews.LineageRun(
        run.id(),
        run.run().reference().toString(),
        run.run().job().title(),
        engine.definitions().streamAt(stream).map(one -> one.title()).orElse(stream),
        leg.status().state().word(),
        RunViews.instant(leg.start()),
        RunViews.instant(leg.end()),
        leg.status().state().isEnded(),
        course.chain().stream().anyMatch(one -> one.run().id() == run.id()),
        leg.slack() < 0 ? null : leg.slack() / 60_000,
        leg.waitsFor().stream()
            .map(id -> course.legs().get(id).run().run().reference().toString())
            .toList());
  }

  private static CommitmentViews.CauseView cause(Causes.Cause cause) {
    return new CommitmentViews.CauseView(
        cause.run() == null ? "" : cause.run().run().reference().toString(),
        (cause.run() == null ? "" : cause.run().run().job().title() + " ") + cause.text(),
        Math.round(cause.millis() / 6_000.0) / 10.0);
  }

  private static CommitmentViews.HelpView help(Helps.Help help, PromiseOutlook shown) {
    RunSpec run = help.remedy().run();
    String title = "\"" + run.run().job().title() + "\"";
    String reference = "'" + run.run().reference() + "'";
    Told told = told(help.remedy(), title, reference);
    String cost =
        help.cost().entrySet().stream()
            .map(one -> one.getKey() + ": " + Math.round(one.getValue() * 100) + " % late")
            .collect(Collectors.joining(", "));
    return new CommitmentViews.HelpView(
        told.action(),
        run.id(),
        told.text(),
        told.page(),
        "purser " + told.command(),
        RunViews.instant(help.end(shown)),
        help.after().canSayLate() ? help.chanceLate(shown) : null,
        Math.round(help.gain() / 6_000.0) / 10.0,
        cost);
  }

  /** What is done, where in the console, and by which command. */
  private record Told(String action, String page, String text, String command) {}

  private static Told told(Remedy remedy, String title, String reference) {
    if (remedy instanceof Remedy.MoreUnits more) {
      return new Told(
          "",
          "/capacity",
          "give " + more.capacity() + " " + more.units() + " units instead of " + more.now(),
          "capacity " + more.capacity() + " --units " + more.units());
    }
    if (remedy instanceof Remedy.HostReturned back) {
      String text = "let " + back.host() + " take work again";
      return new Told("", "/hosts", text, "hosts return " + back.host());
    }
    return onRun((Remedy.OnRun) remedy, title, reference);
  }

  private static Told onRun(Remedy.OnRun on, String title, String reference) {
    String text =
        switch (on.action()) {
          case RERUN -> "rerun " + title + " now";
          case SUCCEED -> "mark " + title + " as succeeded, if what it does is not needed";
          case RELEASE -> "release " + title;
          case APPROVE -> "answer yes to " + title;
          case START -> "start " + title + " now, whatever it waits for";
          case PRIORITY -> "give " + title + " the highest priority";
          default -> on.action().word() + " " + title;
        };
    String command =
        switch (on.action()) {
          case SUCCEED -> "mark " + reference + " --as succeeded";
          case START -> "start-now " + reference;
          case PRIORITY -> "priority " + reference + " --to " + on.argument();
          default -> on.action().word() + " " + reference;
        };
    return new Told(on.action().word(), "/runs/" + on.run().id(), text, command);
  }

  private static CommitmentViews.KeptView kept(UsualEnds.Kept kept, ZoneId zone) {
    Instant done = RunViews.instant(kept.done());
    long minutes =
        done == null
            ? 0
            : Duration.between(kept.promised().date().atStartOfDay(zone).toInstant(), done)
                .toMinutes();
    return new CommitmentViews.KeptView(
        kept.promised().date(),
        kept.promised().number(),
        kept.promised().by().orElse(null),
        done,
        kept.isKept(),
        minutes);
  }
}
