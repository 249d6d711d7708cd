package dev.purser.service.publish;

import dev.purser.core.board.BoardView;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.check.Uses;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.job.Job;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Problem;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.FetchedCalendar;
import dev.purser.core.reading.FromTemplates;
import dev.purser.core.rename.Renaming;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.RenamedRow;
import dev.purser.service.definition.Renames;
import dev.purser.service.history.DurationHistory;
import dev.purser.service.live.Live;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/**
 * Gives a definition another name: its versions, runs, history, pause and holds come with it, and
 * whatever names it names it anew, in one publication. A run that is under way stays under way.
 */
@Component
public class Rename {
  private static final int MOST_NAMED = 6;

  /** Tables that go by the path of a stream, and the column that does. */
  private static final List<String> MOVED =
      List.of(
          "update run set stream=? where stream=?",
          "update past_run set stream=? where stream=?",
          "update job_history set stream=? where stream=?",
          "update alert set stream=? where stream=?",
          "update subscription set stream=? where stream=?",
          "update maintenance set name=? where scope='stream' and name=?",
          "update standing_hold set name=? where kind='stream' and name=?");

  private static final String MOVED_ALERT =
      "update alert set reference=concat(?, substring(reference, ?)) where closed is null and"
          + " left(reference, ?)=?";
  private static final String MOVED_JOB_HOLD =
      "update standing_hold set name=? where kind='job' and name=?";
  private static final String MOVED_JOB_MAINTENANCE =
      "update maintenance set name=? where scope='job' and name=?";

  private final Engine engine;
  private final PlanKeeper plan;
  private final Pauses pauses;
  private final OnRecord onRecord;
  private final Agreement agreement;
  private final DefinitionRecords records;
  private final Renames renames;
  private final DurationHistory history;
  private final AuditTrail audit;
  private final Live live;
  private final Clock clock;

  Rename(
      Engine engine,
      PlanKeeper plan,
      Pauses pauses,
      OnRecord onRecord,
      Agreement agreement,
      DefinitionRecords records,
      Renames renames,
      DurationHistory history,
      AuditTrail audit,
      Live live,
      Clock clock) {
    this.engine = engine;
    this.plan = plan;
    this.pauses = pauses;
    this.onRecord = onRecord;
    this.agreement = agreement;
    this.records = records;
    this.renames = renames;
    this.history = history;
    this.audit = audit;
    this.live = live;
    this.clock = clock;
  }

  /**
   * What came of it, or would.
   *
   * @param revision 0 where nothing was renamed
   * @param changed the definitions whose texts change, the renamed one by its new name
   * @param runs how many runs on the board go by the new name
   * @param problems why it cannot be
   */
  public record Outcome(long revision, List<String> changed, int runs, List<Problem> problems) {
    /** Whether it could be. */
    public boolean isSound() {
      return problems.stream().noneMatch(Problem::isError);
    }
  }

  /** What the definitions would be. */
  private record Sketch(
      Definitions before, DefinitionCheck.Result result, List<Document> news, List<Document> gone) {
    Definitions after() {
      return result.definitions();
    }
  }

  /** Says what renaming would change, and changes nothing. */
  public Outcome preview(Named what, String to) {
    Sketch sketch = sketch(engine.definitions(), what, to);
    refuseTaken(what, to);
    Set<String> paths = paths(sketch.before(), what, to).keySet();
    int moved =
        engine.look(
            board -> {
              refuseOlder(board, sketch);
              return (int) board.runs().stream().filter(run -> paths.contains(stream(run))).count();
            });
    return outcome(sketch, 0, moved);
  }

  /**
   * Renames it.
   *
   * @throws NotUnderstood where there is no such definition, it cannot be renamed, the name is
   *     taken, or runs that are not over still go by a version that names it as it was
   */
  public Outcome rename(Named what, String to, AuditTrail.Actor actor, String reason) {
    sketch(engine.definitions(), what, to); // what is plainly wrong costs the engine no turn
    refuseTaken(what, to);
    List<String> departments = agreement.departments();
    Outcome outcome = engine.ask(turn -> rename(turn, what, to, departments, actor, reason)).join();
    renames.forget();
    live.definitionsChanged();
    return outcome;
  }

  private Sketch sketch(Definitions before, Named what, String to) {
    if (what.kind() == Kind.STREAM && Stream.isTrial(to)) {
      throw new NotUnderstood(
          to + ": " + Stream.TRIAL + " is kept for tries of drafts; choose another name");
    }
    DefinitionReader.Reading read = DefinitionReader.read(Renaming.texts(before, what, to));
    Document old = before.document(what.kind(), what.name()).orElseThrow();
    DefinitionReader.Reading reading =
        FromTemplates.filled(FetchedCalendar.keepingCopies(read, before), before)
            .without(List.of(old), before);
    DefinitionCheck.Result result = DefinitionCheck.check(before, reading, plan.today());
    if (result.isSound()) {
      List<String> still =
          Uses.in(result.definitions()).of(what).stream().map(Uses.Use::where).distinct().toList();
      if (!still.isEmpty()) {
        throw new NotUnderstood(
            Shorten.names(still, MOST_NAMED)
                + " would still name "
                + what.name()
                + ", in a way that is not changed by itself; change that first");
      }
    }
    List<Document> news =
        reading.documents().stream()
            .filter(one -> before.document(one.kind(), one.name()).filter(one::isSame).isEmpty())
            .toList();
    return new Sketch(before, result, news, reading.gone());
  }

  private static Outcome outcome(Sketch sketch, long revision, int moved) {
    return new Outcome(
        revision,
        sketch.news().stream().map(one -> one.kind().word() + " " + one.name()).toList(),
        moved,
        sketch.result().problems());
  }

  /** A name that something else had once stays that one's: its versions and runs go by it. */
  private void refuseTaken(Named what, String to) {
    boolean own =
        renames.names(what.kind(), what.name()).stream().anyMatch(one -> one.name().equals(to));
    if (!own && records.wasEver(what.kind(), to)) {
      throw new NotUnderstood(
          "there was a "
              + what.kind().title()
              + " "
              + to
              + " before, whose versions and runs go by that name; choose another");
    }
  }

  /** Runs that are not over and go by an older version have it with the old name. */
  private void refuseOlder(BoardView board, Sketch sketch) {
    Set<String> changed = streams(all(sketch));
    List<String> older =
        plan
            .open(board, sketch.before(), sketch.before(), changed::contains, Holds.PLANNED)
            .stream()
            .map(one -> one.run().run().reference())
            .map(RunReference::toString)
            .toList();
    if (!older.isEmpty()) {
      throw new NotUnderstood(
          Shorten.names(older, MOST_NAMED)
              + (older.size() == 1 ? " is" : " are")
              + " not over and"
              + (older.size() == 1 ? " goes" : " go")
              + " by an older version, in which the old name stands; let it end, or have it take the"
              + " version in force first (publish it with --from now)");
    }
  }

  private static Set<String> streams(List<Document> documents) {
    return documents.stream()
        .filter(one -> one.kind() == Kind.STREAM)
        .map(Document::name)
        .collect(Collectors.toCollection(TreeSet::new));
  }

  private static String top(Definitions definitions, String path) {
    return definitions.topOf(path).map(Stream::path).orElse(path);
  }

  // ---- in the engine's turn

  private Outcome rename(
      Turn turn,
      Named what,
      String to,
      List<String> departments,
      AuditTrail.Actor actor,
      String reason) {
    Sketch sketch = sketch(turn.definitions(), what, to);
    if (!sketch.result().isSound()) {
      return outcome(sketch, 0, 0);
    }
    Agreement.refuse(departments, all(sketch), sketch.before(), sketch.after(), "");
    refuseOlder(turn.board(), sketch);
    long revision = turn.revision() + 1;
    turn.define(sketch.after(), revision);
    for (Document one : sketch.news()) {
      onRecord.write(turn, revision, one, false, actor);
    }
    for (Document one : sketch.gone()) {
      onRecord.write(turn, revision, one, true, actor);
    }
    String note = what.kind().title() + " " + what.name() + " is called " + to + " now";
    onRecord.publication(turn, revision, note, actor, reason);
    RenamedRow row = new RenamedRow();
    row.kind = what.kind().word();
    row.oldName = what.name();
    row.newName = to;
    row.revision = revision;
    row.at = clock.instant();
    row.who = actor.name();
    turn.also(session -> session.insert(row));
    turn.also(
        session ->
            session.insert(
                audit.entry(actor, "rename", what.kind().word() + " " + what.name(), "to " + to)));
    Map<String, String> paths = paths(sketch.before(), what, to);
    int moved = moveRuns(turn, sketch, paths, note + ", by " + actor.name());
    if (what.kind() == Kind.STREAM) {
      moveHolds(turn, paths);
      pauses.renamed(turn, what.name(), to);
      moveRows(turn, paths);
      history.renamed(paths);
    }
    return outcome(sketch, revision, moved);
  }

  private static List<Document> all(Sketch sketch) {
    List<Document> all = new ArrayList<>(sketch.news());
    all.addAll(sketch.gone());
    return all;
  }

  /** Old paths with new ones: of a stream and of the streams in it; none for all other kinds. */
  private static Map<String, String> paths(Definitions before, Named what, String to) {
    return what.kind() == Kind.STREAM
        ? nested(before, what.name(), to, new LinkedHashMap<>(), 0)
        : Map.of();
  }

  private static Map<String, String> nested(
      Definitions before, String path, String to, Map<String, String> paths, int depth) {
    paths.put(path, to);
    Optional<Stream> stream = before.streamAt(path);
    for (Job job : stream.map(Stream::jobs).orElse(List.of())) {
      if (job.isStep() && depth < 20) {
        nested(before, path + "/" + job.name(), to + "/" + job.name(), paths, depth + 1);
      }
    }
    return paths;
  }

  private static String stream(RunSpec run) {
    return run.run().reference().stream();
  }

  /** Runs of the renamed stream, and of those whose texts name anew what was renamed. */
  private static int moveRuns(Turn turn, Sketch sketch, Map<String, String> paths, String note) {
    Set<String> changed = streams(sketch.news());
    Planner planner = new Planner(sketch.after());
    List<RunSpec> others = new ArrayList<>();
    int moved = 0;
    for (RunSpec run : turn.board().runs()) {
      String path = paths.getOrDefault(stream(run), stream(run));
      PlannedRun named = run.run().ofStream(path);
      boolean isOver = turn.board().state(run.id()).orElseThrow().isOver();
      boolean isOfChanged = changed.contains(top(sketch.after(), path));
      PlannedRun after =
          isOver || !isOfChanged ? named : planner.renewed(named, Optional.empty()).orElse(named);
      if (!after.equals(run.run())) {
        others.add(new RunSpec(run.id(), after, run.longAfter()));
        moved += path.equals(stream(run)) ? 0 : 1;
      }
    }
    turn.rename(others, note);
    return moved;
  }

  private static void moveHolds(Turn turn, Map<String, String> paths) {
    for (Map.Entry<HoldScope, String> hold : Map.copyOf(turn.board().holds()).entrySet()) {
      HoldScope scope = hold.getKey();
      String name = moved(scope, paths);
      if (!name.equals(scope.name())) {
        turn.apply(new BoardEvent.HoldLifted(turn.now(), scope));
        turn.apply(
            new BoardEvent.HoldPlaced(
                turn.now(), new HoldScope(scope.kind(), name), hold.getValue()));
        if (scope.kind() == HoldScope.Kind.JOB) {
          turn.write(MOVED_JOB_HOLD, name, scope.name());
        }
      }
    }
  }

  private static String moved(HoldScope scope, Map<String, String> paths) {
    return switch (scope.kind()) {
      case STREAM -> paths.getOrDefault(scope.name(), scope.name());
      case JOB -> {
        int slash = Math.max(0, scope.name().lastIndexOf('/'));
        String stream = scope.name().substring(0, slash);
        yield paths.containsKey(stream)
            ? paths.get(stream) + scope.name().substring(slash)
            : scope.name();
      }
      default -> scope.name();
    };
  }

  private static void moveRows(Turn turn, Map<String, String> paths) {
    paths.forEach(
        (from, to) -> {
          MOVED.forEach(statement -> turn.write(statement, to, from));
          turn.write(MOVED_ALERT, to + "/", from.length() + 2, from.length() + 1, from + "/");
          for (Job job : jobs(turn.definitions(), to)) {
            turn.write(MOVED_JOB_MAINTENANCE, to + "/" + job.name(), from + "/" + job.name());
          }
        });
  }

  private static List<Job> jobs(Definitions definitions, String path) {
    return definitions.streamAt(path).map(Stream::jobs).orElse(List.of());
  }
}
