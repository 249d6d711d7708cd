package dev.purser.service.commitment;

import dev.purser.core.advice.Causes;
import dev.purser.core.advice.Course;
import dev.purser.core.advice.Helps;
import dev.purser.core.board.Board;
import dev.purser.core.commitment.Lineage;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.history.PastRun;
import dev.purser.core.learning.Learned;
import dev.purser.core.learning.LearnedOutcomes;
import dev.purser.core.learning.UsualEnds;
import dev.purser.core.run.RunSpec;
import dev.purser.service.board.Engine;
import dev.purser.service.history.PastRuns;
import dev.purser.service.outlook.OutlookKeeper;
import dev.purser.service.outlook.UsualEnding;
import dev.purser.service.plan.PlanKeeper;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** Promises of a date, and all that can be said of one of them. */
@Component
public class Commitments {
  private static final Duration AHEAD = Duration.ofDays(2);
  private static final int SAMPLES = 40;
  private static final int DAYS_TOLD = 91;

  private final Engine engine;
  private final OutlookKeeper outlooks;
  private final PastRuns past;
  private final UsualEnding usual;
  private final PlanKeeper plan;
  private final WhyWaited whyWaited;
  private final Map<String, Earlier> earlier = new ConcurrentHashMap<>();
  private volatile Chains chains;

  Commitments(
      Engine engine,
      OutlookKeeper outlooks,
      PastRuns past,
      UsualEnding usual,
      PlanKeeper plan,
      WhyWaited whyWaited) {
    this.engine = engine;
    this.outlooks = outlooks;
    this.past = past;
    this.usual = usual;
    this.plan = plan;
    this.whyWaited = whyWaited;
  }

  /** How the promises of a date stand: those on the board, and those of earlier dates. */
  public List<PromiseOutlook> of(LocalDate date) {
    List<PromiseOutlook> found = new ArrayList<>();
    for (PromiseOutlook outlook : outlooks.promises()) {
      if (outlook.promised().date().equals(date)) {
        found.add(outlook);
      }
    }
    if (found.isEmpty() && date.isBefore(plan.today())) {
      Definitions definitions = engine.definitions();
      for (Commitment commitment : definitions.commitments()) {
        for (UsualEnds.Kept kept : earlier(commitment)) {
          if (kept.promised().date().equals(date)) {
            found.add(ended(kept));
          }
        }
      }
    }
    return found;
  }

  /** A promise of an earlier date as it stood in the end. */
  private static PromiseOutlook ended(UsualEnds.Kept kept) {
    return new PromiseOutlook(
        kept.promised(),
        kept.isKept() ? PromiseOutlook.Standing.KEPT : PromiseOutlook.Standing.MISSED,
        0,
        0,
        0,
        kept.done(),
        kept.done(),
        kept.done(),
        kept.isKept() ? 0 : 1,
        0,
        RunOutlook.HangsOn.NOTHING,
        false,
        0);
  }

  /** What became of a commitment on the last dates, oldest first. */
  public List<UsualEnds.Kept> earlier(Commitment commitment) {
    Promises promises = promises();
    Basis basis = new Basis(promises, plan.today(), past.version());
    Earlier known = earlier.get(commitment.name());
    if (known == null || !known.basis().equals(basis)) {
      known =
          new Earlier(
              basis,
              UsualEnds.earlier(
                  engine.definitions(), commitment, promises, past.before(basis.today())));
      earlier.put(commitment.name(), known);
    }
    return known.kept();
  }

  private Promises promises() {
    return outlooks.promising(engine.definitions());
  }

  /** What the record of a commitment rests on; promises are compared by identity. */
  private record Basis(Promises promises, LocalDate today, long version) {}

  private record Earlier(Basis basis, List<UsualEnds.Kept> kept) {}

  /** On what a commitment would rest by other definitions, and what it would have kept. */
  public String wouldKeep(Definitions definitions, Commitment commitment) {
    Map<String, List<PastRun>> byJob = past.before(plan.today());
    Promises promises =
        new Promises(
            definitions,
            UsualEnds.of(definitions, commitment, new Promises(definitions, Map.of()), byJob)
                .map(found -> Map.of(commitment.name(), found.after()))
                .orElse(Map.of()));
    List<UsualEnds.Kept> last =
        UsualEnds.earlier(definitions, commitment, promises, byJob).stream()
            .filter(kept -> kept.promised().date().isAfter(plan.today().minusDays(DAYS_TOLD)))
            .toList();
    long kept = last.stream().filter(UsualEnds.Kept::isKept).count();
    boolean tooFew =
        commitment.promise() instanceof Commitment.AsUsual && last.size() < UsualEnds.ENOUGH;
    return commitment.name()
        + " "
        + promises.lineage(commitment).inWords()
        + (last.isEmpty()
            ? "; nothing is on record of its end job"
            : "; of its " + last.size() + " ends in 90 days it would have kept " + kept)
        + (tooFew ? "; what is usual holds from the " + UsualEnds.ENOUGH + "th end on" : "");
  }

  /**
   * When a promise is usually kept: the median of the earlier ends of that start of the date; empty
   * where there are few.
   */
  public OptionalLong usualEnd(Promised promised, List<UsualEnds.Kept> earlier) {
    long[] after =
        earlier.stream()
            .filter(kept -> kept.done() > 0 && kept.promised().number() == promised.number())
            .mapToLong(kept -> kept.done() - kept.promised().begin().toEpochMilli())
            .sorted()
            .toArray();
    return after.length < UsualEnds.ENOUGH
        ? OptionalLong.empty()
        : OptionalLong.of(promised.begin().toEpochMilli() + after[after.length / 2]);
  }

  /** Whether the runs of a promise are on the board, so that more can be said of it. */
  public boolean isOnBoard(PromiseOutlook outlook) {
    return outlooks.promises().stream()
        .anyMatch(one -> one.promised().reference().equals(outlook.promised().reference()));
  }

  /** The lineage of a commitment. */
  public Lineage lineage(Commitment commitment) {
    return promises().lineage(commitment);
  }

  /** On what forecasts of a commitment rest, for people. */
  public String restsOn(Lineage lineage) {
    return learned().restsOn(lineage);
  }

  private Learned learned() {
    return past.learned(engine.definitions(), plan.today());
  }

  /**
   * All that can be said of a promise.
   *
   * @param course its lineage as it is likely to go
   * @param causes what makes the difference to the usual end; empty where nobody can say
   */
  public record Insight(Course course, List<Causes.Cause> causes) {}

  /** Looks closely at a promise that is on the board. */
  public Insight insight(PromiseOutlook outlook) {
    Promised promised = outlook.promised();
    Board board = outlooks.board();
    LearnedOutcomes outcomes = outlooks.outcomes(board);
    Course course =
        Course.of(
            board, outcomes.typical(), promised, lineage(promised.commitment()), until(board));
    OptionalLong usualEnd = usualEnd(promised, earlier(promised.commitment()));
    List<Causes.Cause> causes =
        usualEnd.isEmpty()
            ? List.of()
            : Causes.of(course, usualEnd.getAsLong(), outcomes::usualMillis, whyWaited);
    return new Insight(course, causes);
  }

  /**
   * A promise that is not kept yet, and the chain of runs that decides when it is.
   *
   * @param chain from the first run to the end run; empty where nobody can say
   */
  public record Deciding(PromiseOutlook outlook, List<RunSpec> chain) {}

  /** What decides on the open promises of a date; worked out once for an outlook. */
  public List<Deciding> deciding(LocalDate date) {
    List<PromiseOutlook> all = outlooks.promises();
    Chains known = chains;
    if (known == null || known.of() != all) { // compared by identity: each outlook has a new list
      known = new Chains(all, chains(all));
      chains = known;
    }
    return known.found().stream()
        .filter(one -> one.outlook().promised().date().equals(date))
        .toList();
  }

  private List<Deciding> chains(List<PromiseOutlook> all) {
    List<PromiseOutlook> open =
        all.stream()
            .filter(one -> one.standing() != PromiseOutlook.Standing.KEPT)
            .filter(one -> one.standing() != PromiseOutlook.Standing.MISSED)
            .toList();
    if (open.isEmpty()) {
      return List.of();
    }
    Board board = outlooks.board();
    List<Course> courses =
        Course.of(
            board,
            outlooks.outcomes(board).typical(),
            open.stream()
                .map(PromiseOutlook::promised)
                .map(one -> new Course.Asked(one, lineage(one.commitment())))
                .toList(),
            until(board));
    List<Deciding> found = new ArrayList<>();
    for (int i = 0; i < open.size(); i++) {
      found.add(
          new Deciding(open.get(i), courses.get(i).chain().stream().map(Course.Leg::run).toList()));
    }
    return found;
  }

  private record Chains(List<PromiseOutlook> of, List<Deciding> found) {}

  /**
   * A promise as of now, so that what would help it is held against how it stands; one that is kept
   * or missed stays as it is.
   */
  public PromiseOutlook renewed(PromiseOutlook outlook) {
    boolean over =
        outlook.standing() == PromiseOutlook.Standing.KEPT
            || outlook.standing() == PromiseOutlook.Standing.MISSED;
    return over ? outlook : outlooks.renewed(outlook);
  }

  /** What would help a promise that is on the board, the most helpful first. */
  public List<Helps.Help> helps(PromiseOutlook outlook, Course course) {
    Board board = outlooks.board();
    List<Promised> all =
        outlooks.promises().stream()
            .filter(one -> one.standing() != PromiseOutlook.Standing.KEPT)
            .filter(one -> one.standing() != PromiseOutlook.Standing.MISSED)
            .map(PromiseOutlook::promised)
            .toList();
    return new Helps(board, outlooks.outcomes(board), all, SAMPLES, until(board))
        .of(outlook.promised(), course);
  }

  private static long until(Board board) {
    return board.now() + AHEAD.toMillis();
  }

  /** Works out anew what is usual of a commitment; empty where too little is known. */
  public Optional<Duration> renew(Commitment commitment) {
    past.forget();
    return usual.renew(engine.definitions(), commitment);
  }
}
