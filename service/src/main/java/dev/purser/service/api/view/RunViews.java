package dev.purser.service.api.view;

import dev.purser.core.board.BoardView;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.Stream;
import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.job.Job;
import dev.purser.core.job.Shape;
import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.run.Action;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.StartTimes;
import dev.purser.core.why.Why;
import dev.purser.service.board.Engine;
import dev.purser.service.outlook.OutlookKeeper;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.springframework.stereotype.Component;

/** Makes views of runs from their rows, the board and the outlook. */
@Component
public class RunViews {
  private final Engine engine;
  private final OutlookKeeper outlooks;
  private final RunRecords records;

  /** The engine waits while somebody looks: nobody looks for long. */
  private static final int AT_ONCE = 50;

  RunViews(Engine engine, OutlookKeeper outlooks, RunRecords records) {
    this.engine = engine;
    this.records = records;
    this.outlooks = outlooks;
  }

  /**
   * Runs as the API shows them, in the same order: from the board where they are on it, else as
   * they are on record. The board is held for a few of them at a time, so that the engine is not
   * kept waiting.
   */
  public List<RunView> views(List<RunRow> rows) {
    Map<Long, RunOutlook> current = outlooks.current();
    List<RunView> all = new ArrayList<>(rows.size());
    for (int i = 0; i < rows.size(); i += AT_ONCE) {
      List<RunRow> some = rows.subList(i, Math.min(i + AT_ONCE, rows.size()));
      engine.look(
          board -> {
            some.forEach(row -> all.add(view(row, board, current.get(row.id))));
            return true;
          });
    }
    return all;
  }

  /** One run as the API shows it. */
  public RunView view(RunRow row) {
    return views(List.of(row)).get(0);
  }

  private static RunView view(RunRow row, BoardView board, RunOutlook outlook) {
    boolean onBoard = board.run(row.id).isPresent();
    Set<Action> actions = onBoard ? board.actions(row.id) : EnumSet.noneOf(Action.class);
    Optional<Why> why = onBoard ? Optional.of(board.why(row.id)) : Optional.empty();
    boolean hangs = why.filter(now -> hangs(now, outlook)).isPresent();
    boolean open = outlook != null && row.ended == null && (!hangs || outlook.ifAnswered());
    return new RunView(
        row.id,
        row.reference(),
        row.stream,
        row.streamTitle,
        row.department,
        row.job,
        row.title,
        row.kind,
        Shape.of(row.kind).word(),
        row.businessDate,
        row.number,
        row.state,
        onBoard ? board.heldBy(row.id) : row.hold,
        row.since,
        row.movedDue == null ? row.due : row.movedDue,
        row.shift,
        row.zone,
        row.startBy,
        row.finishBy,
        row.started,
        row.ended,
        row.host,
        row.attempts,
        row.exitCode,
        row.note,
        Stream.isTrial(row.stream) ? List.of() : row.alerts(), // of a try nobody is told
        actions.stream().map(Action::word).toList(),
        open && row.started == null ? instant(outlook.start()) : null,
        open ? instant(outlook.end()) : null,
        open ? instant(outlook.latestEnd()) : null,
        open && row.finishBy != null && outlook.canSayLate() ? outlook.chanceLate() : null,
        priority(row, board),
        Arrays.stream(row.tags.split(",")).filter(tag -> !tag.isEmpty()).toList(),
        hangs,
        open && outlook.ifAnswered() && (outlook.start() > 0 || outlook.end() > 0),
        why.map(Why::sentence).orElseGet(() -> pastSentence(row)));
  }

  /** A file that comes in time, as far as can be said, is nothing that a person must see to. */
  private static boolean hangs(Why why, RunOutlook outlook) {
    boolean comes =
        outlook != null
            && outlook.hangsOn() == RunOutlook.HangsOn.NOTHING
            && outlook.end() > 0
            && why.hangsOnFilesAlone();
    return why.hangsOnPerson() && !comes;
  }

  private static int priority(RunRow row, BoardView board) {
    return row.priority >= 0
        ? row.priority
        : board.run(row.id).map(spec -> spec.run().job().priority()).orElse(Job.USUAL_PRIORITY);
  }

  private static String pastSentence(RunRow row) {
    boolean was = row.state.equals("cancelled") || row.state.equals("skipped");
    return (was ? "It was " : "It ") + row.state + (row.note.isEmpty() ? "" : ": " + row.note);
  }

  /** What a clock change did, in the API's word; empty for nothing. */
  public static String word(StartTimes.Shift shift) {
    return shift == StartTimes.Shift.NONE ? "" : shift.name().toLowerCase(Locale.ROOT);
  }

  /**
   * A time of the core in the API.
   *
   * @param millis epoch milliseconds; 0 for none
   * @return null for none
   */
  public static Instant instant(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }

  /**
   * Why a run is not running, with all that is behind it; of a run that is past only what became of
   * it.
   */
  public Views.WhyView why(RunRow row) {
    Map<Long, RunOutlook> current = outlooks.current();
    Instant heldSince = heldSince(row);
    return engine.look(
        board -> {
          if (board.run(row.id).isEmpty()) {
            return new Views.WhyView(row.reference(), row.state, pastSentence(row), List.of());
          }
          Why why = board.why(row.id);
          return new Views.WhyView(
              row.reference(),
              board.status(row.id).orElseThrow().state().word(),
              why.sentence(),
              why.reasons().stream()
                  .map(
                      reason ->
                          reason(
                              reason,
                              board,
                              current,
                              reason.what() == Why.What.HOLD ? heldSince : null))
                  .toList());
        });
  }

  /** When it was held as it is now, by what happened to it; null where it is not held itself. */
  private Instant heldSince(RunRow row) {
    return row.hold.isEmpty()
        ? null
        : records.moments(row.id).stream()
            .filter(moment -> moment.note.equals(row.hold))
            .map(moment -> moment.at)
            .reduce((first, last) -> last)
            .orElse(null);
  }

  private static Views.ReasonView reason(
      Why.Reason reason, BoardView board, Map<Long, RunOutlook> outlooks, Instant since) {
    RunOutlook outlook = outlooks.get(reason.run());
    return new Views.ReasonView(
        reason.text(),
        since == null ? instant(reason.since()) : since,
        reason.who(),
        board.run(reason.run()).map(run -> run.run().reference().toString()).orElse(""),
        outlook == null ? null : instant(outlook.end()),
        reason.below().stream().map(below -> reason(below, board, outlooks, null)).toList());
  }

  /** What can be done to a run now, in words; nothing to one that is past. */
  public List<Views.ActionView> actions(RunRow row) {
    return engine.look(
        board ->
            board.actions(row.id).stream()
                .map(
                    action ->
                        new Views.ActionView(
                            action.word(),
                            action.word().substring(0, 1).toUpperCase(Locale.ROOT)
                                + action.word().substring(1)
                                + " "
                                + row.reference()
                                + ": "
                                + action.effect()
                                + "."))
                .toList());
  }

  /** What is seen of the files that a run waits for. */
  public List<Views.FileView> files(RunRow row) {
    return engine.look(
        board -> {
          Optional<RunSpec> spec = board.run(row.id);
          Optional<RunStatus> status = board.status(row.id);
          if (spec.isEmpty() || status.isEmpty()) {
            return List.of();
          }
          List<Views.FileView> files = new java.util.ArrayList<>();
          for (int i = 0; i < status.get().files().size(); i++) {
            FileSight sight = status.get().files().get(i).sight();
            files.add(
                new Views.FileView(
                    spec.get().run().watches().get(i).name(),
                    sight.name().toLowerCase(Locale.ROOT),
                    status.get().files().get(i).path()));
          }
          return files;
        });
  }

  /** Its values for placeholders, the bounds of its window among them. */
  private List<ActionViews.ParameterView> parameters(PlannedRun run) {
    List<ActionViews.ParameterView> all = new ArrayList<>();
    Calendars calendars = engine.definitions().calendars();
    Calendars own =
        calendars.businessNames().contains(run.calendar())
            ? calendars.meaning(run.calendar())
            : calendars;
    new TreeMap<>(run.parameters().all())
        .forEach(
            (name, one) ->
                all.add(
                    new ActionViews.ParameterView(
                        name, filled(one.value(), run, own), one.origin().word())));
    run.start()
        .window()
        .ifPresent(
            window -> {
              all.add(
                  new ActionViews.ParameterView(
                      "window.start", window.start().toString(), "schedule"));
              all.add(
                  new ActionViews.ParameterView("window.end", window.end().toString(), "schedule"));
            });
    return all;
  }

  /** What whoever is called should do where the run fails; empty where nobody says it. */
  public String whenItFails(RunRow row) {
    return engine.definitions().whenItFails(row.stream + "/" + row.job);
  }

  /** What the run does, waits for and is given, as far as the board knows it. */
  public record Doing(
      String command,
      String waitsFor,
      String onlyIf,
      List<ActionViews.ParameterView> parameters,
      String above) {
    static final Doing UNKNOWN = new Doing("", "", "", List.of(), "");
  }

  /** What a run does; nothing is known of one that is past. */
  public Doing doing(RunRow row) {
    return engine.look(
        board -> board.run(row.id).map(spec -> doing(spec, board)).orElse(Doing.UNKNOWN));
  }

  /** A value with its placeholders filled in, as far as that can be done beforehand. */
  private static String filled(String value, PlannedRun run, Calendars calendars) {
    try {
      return PlaceholderText.fill(
          value, run.reference().date(), calendars, run.parameters().values());
    } catch (PlaceholderText.PlaceholderException e) {
      return value;
    }
  }

  private Doing doing(RunSpec spec, BoardView board) {
    PlannedRun run = spec.run();
    String above =
        board
            .above(spec.id())
            .flatMap(board::run)
            .map(step -> step.run().reference().toString())
            .orElse("");
    return new Doing(
        board.work(spec.id()),
        run.waived() ? "" : run.job().waitsFor().map(Object::toString).orElse(""),
        run.job().onlyIf().map(Object::toString).orElse(""),
        parameters(run),
        above);
  }
}
