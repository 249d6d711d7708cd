package dev.purser.service.publish;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.definition.Stream;
import dev.purser.core.preview.Preview;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Problem;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.FetchedCalendar;
import dev.purser.core.reading.FromTemplates;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import dev.purser.service.definition.SiteCheck;
import dev.purser.service.live.Live;
import dev.purser.service.plan.Concerned;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.OpenRun;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.plan.Touched;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import org.springframework.stereotype.Component;

/** Publishes definitions: all that is given, or nothing. */
@Component
public class Publisher {
  private final Engine engine;
  private final PlanKeeper plan;
  private final Pauses pauses;
  private final List<SiteCheck> site;
  private final Agreement agreement;
  private final OldNames oldNames;
  private final OnRecord onRecord;
  private final Live live;

  Publisher(
      Engine engine,
      PlanKeeper plan,
      Pauses pauses,
      List<SiteCheck> site,
      Agreement agreement,
      OldNames oldNames,
      OnRecord onRecord,
      Live live) {
    this.site = List.copyOf(site);
    this.agreement = agreement;
    this.oldNames = oldNames;
    this.engine = engine;
    this.plan = plan;
    this.pauses = pauses;
    this.onRecord = onRecord;
    this.live = live;
  }

  /**
   * What came of it.
   *
   * @param revision the new revision; 0 where nothing was published
   */
  public record Outcome(
      boolean sound,
      long revision,
      List<String> added,
      List<String> changed,
      List<String> unchanged,
      List<String> withdrawn,
      PlanKeeper.Replanned replanned,
      List<Problem> problems) {}

  /** The definitions are not those any more that somebody saw last. */
  public static final class Outdated extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Outdated(long seen, long now) {
      super(
          "you saw revision " + seen + ", but " + now + " is in force now; look again and repeat");
    }
  }

  /**
   * What is to be published.
   *
   * @param files definitions that are new or other
   * @param withdrawn what is to go with them; what is not in force is passed over
   * @param origin where it comes from, other than from a person's own hand; empty for that
   * @param agreed who else has agreed to it; empty for nobody
   * @param trial whether it is a try of a draft, which is live for nobody
   * @param holds from when it holds for runs that are there
   */
  public record Change(
      List<SourceFile> files,
      List<Named> withdrawn,
      String origin,
      String agreed,
      boolean trial,
      Holds holds) {
    /** A change to which nobody else has agreed, and that holds for what has not begun. */
    public Change(List<SourceFile> files, List<Named> withdrawn, String origin) {
      this(files, withdrawn, origin, "", false, Holds.PLANNED);
    }

    /** Files of a person. */
    public static Change of(List<SourceFile> files) {
      return new Change(files, List.of(), "");
    }

    /** The same, and somebody else has agreed to it. */
    public Change agreedBy(String person) {
      return new Change(files, withdrawn, origin, person, trial, holds);
    }

    /** The same as a try of a draft. */
    public Change asTrial() {
      return new Change(files, withdrawn, origin, agreed, true, holds);
    }

    /** The same from some time on. */
    public Change from(Holds other) {
      return new Change(files, withdrawn, origin, agreed, trial, other);
    }
  }

  /** Looks at files as publishing would, and changes nothing. */
  public Outcome check(List<SourceFile> files) {
    Definitions before = engine.definitions();
    DefinitionReader.Reading reading = read(Change.of(files), before);
    DefinitionCheck.Result result = DefinitionCheck.check(before, reading, plan.today());
    return withSite(
        outcome(result, reading, before, 0, PlanKeeper.Replanned.NOTHING), siteProblems(reading));
  }

  private DefinitionReader.Reading read(Change change, Definitions before) {
    List<SourceFile> files = oldNames.brought(change.files(), before);
    return whole(DefinitionReader.read(files), change, before);
  }

  /** What was read, with what is in force and belongs to it: copies of calendars, templates. */
  private static DefinitionReader.Reading whole(
      DefinitionReader.Reading read, Change change, Definitions before) {
    for (Document one : read.documents()) {
      if (!change.trial() && one.kind() == Kind.STREAM && Stream.isTrial(one.name())) {
        throw new NotUnderstood(
            one.name() + ": " + Stream.TRIAL + " is kept for tries of drafts; choose another name");
      }
    }
    return FromTemplates.filled(FetchedCalendar.keepingCopies(read, before), before)
        .without(
            change.withdrawn().stream()
                .flatMap(one -> before.document(one.kind(), one.name()).stream())
                .toList(),
            before);
  }

  private List<Problem> siteProblems(DefinitionReader.Reading reading) {
    return site.stream().flatMap(one -> one.problems(reading.documents()).stream()).toList();
  }

  private static Outcome withSite(Outcome outcome, List<Problem> site) {
    List<Problem> problems = new ArrayList<>(outcome.problems());
    problems.addAll(site);
    return new Outcome(
        outcome.sound(),
        outcome.revision(),
        outcome.added(),
        outcome.changed(),
        outcome.unchanged(),
        outcome.withdrawn(),
        outcome.replanned(),
        problems);
  }

  /**
   * What publishing would do.
   *
   * @param outcome as of {@link #check}
   * @param before what is in force
   * @param changed the documents that are new or differ
   * @param gone the documents that would not be made any more
   * @param after what would be in force
   * @param runs the starts that change; empty where the files are not sound
   * @param touched the runs of the plan that would change and of which people have said something
   * @param open the runs that are there and not over, for which it makes a difference
   * @param revision in force
   */
  public record Previewed(
      Outcome outcome,
      Definitions before,
      List<Document> changed,
      List<Document> gone,
      Definitions after,
      Optional<Preview.Result> runs,
      List<Touched> touched,
      List<OpenRun> open,
      long revision) {}

  /**
   * Looks at what publishing would change, and changes nothing.
   *
   * @param days how many business dates from today are looked at
   */
  public Previewed preview(List<SourceFile> files, int days) {
    return preview(Change.of(files), days);
  }

  /** The same for a change that may withdraw too. */
  public Previewed preview(Change change, int days) {
    long revision = engine.revision();
    Definitions before = engine.definitions();
    DefinitionReader.Reading reading = read(change, before);
    DefinitionCheck.Result result = DefinitionCheck.check(before, reading, plan.today());
    change.holds().check(result.definitions());
    List<Document> changed =
        reading.documents().stream().filter(document -> !isSame(document, before)).toList();
    List<Document> all = new ArrayList<>(changed);
    all.addAll(reading.gone());
    Predicate<String> concerned = Concerned.by(all, result.definitions());
    return new Previewed(
        withSite(
            outcome(result, reading, before, 0, PlanKeeper.Replanned.NOTHING),
            siteProblems(reading)),
        before,
        changed,
        reading.gone(),
        result.definitions(),
        result.isSound()
            ? Optional.of(Preview.of(before, result.definitions(), plan.today(), days))
            : Optional.empty(),
        result.isSound()
            ? touched(before, result.definitions(), concerned, change.holds())
            : List.of(),
        result.isSound()
            ? engine.look(
                board -> plan.open(board, before, result.definitions(), concerned, change.holds()))
            : List.of(),
        revision);
  }

  /**
   * What files would make of the definitions.
   *
   * @param documents all that stand in the files, changed or not
   */
  public record Sketch(
      Definitions before, Definitions after, List<Document> documents, List<Problem> problems) {
    /** Whether they could be published. */
    public boolean isSound() {
      return problems.stream().noneMatch(Problem::isError);
    }
  }

  /** Reads and checks files against what is defined, and changes nothing. */
  public Sketch sketch(List<SourceFile> files) {
    Definitions before = engine.definitions();
    DefinitionReader.Reading reading = read(Change.of(files), before);
    DefinitionCheck.Result result = DefinitionCheck.check(before, reading, plan.today());
    return new Sketch(before, result.definitions(), reading.documents(), result.problems());
  }

  private List<Touched> touched(
      Definitions before, Definitions after, Predicate<String> concerned, Holds holds) {
    Predicate<String> wouldPause =
        path ->
            after.stream(path)
                .map(stream -> pauses.isPausedAfter(stream, before.stream(path)))
                .orElse(true);
    return engine.look(board -> plan.touched(board, after, concerned, wouldPause, holds));
  }

  /**
   * Publishes files.
   *
   * @param seen the revision that the author saw last, if they say
   * @throws Outdated where another is in force by now
   */
  public Outcome publish(
      List<SourceFile> files, Optional<Long> seen, AuditTrail.Actor actor, String reason) {
    return publish(Change.of(files), seen, actor, reason);
  }

  /** The same for a change that may withdraw too. */
  public Outcome publish(
      Change change, Optional<Long> seen, AuditTrail.Actor actor, String reason) {
    change
        .holds()
        .toCome(plan.today())
        .ifPresent(
            date -> {
              throw new NotUnderstood(
                  "this goes live from " + date + ": it must be kept as a draft until then");
            });
    DefinitionReader.Reading read =
        DefinitionReader.read(oldNames.brought(change.files(), engine.definitions()));
    List<Problem> siteProblems = siteProblems(read);
    List<String> needAgreement = change.trial() ? List.of() : agreement.departments();
    Outcome outcome =
        engine.ask(turn -> publish(turn, read, change, needAgreement, seen, actor, reason)).join();
    live.definitionsChanged();
    return withSite(outcome, siteProblems);
  }

  private Outcome publish(
      Turn turn,
      DefinitionReader.Reading read,
      Change change,
      List<String> needAgreement,
      Optional<Long> seen,
      AuditTrail.Actor actor,
      String reason) {
    refuseOutdated(turn, seen);
    Definitions before = turn.definitions();
    DefinitionReader.Reading reading = whole(read, change, before);
    DefinitionCheck.Result result = DefinitionCheck.check(before, reading, plan.today());
    change.holds().check(result.definitions());
    List<Document> news =
        reading.documents().stream().filter(document -> !isSame(document, before)).toList();
    if (!result.isSound() || (news.isEmpty() && reading.gone().isEmpty())) {
      return outcome(result, reading, before, 0, PlanKeeper.Replanned.NOTHING);
    }
    List<Document> all = new ArrayList<>(news);
    all.addAll(reading.gone());
    Agreement.refuse(needAgreement, all, before, result.definitions(), change.agreed());
    long revision = turn.revision() + 1;
    turn.define(result.definitions(), revision);
    for (Document document : news) {
      onRecord.write(turn, revision, document, false, actor);
      pauses.published(turn, document, before.document(document.kind(), document.name()), actor);
    }
    for (Document document : reading.gone()) {
      onRecord.write(turn, revision, document, true, actor);
      pauses.withdrawn(turn, document.name());
    }
    onRecord.publication(turn, revision, origin(change), actor, reason);
    PlanKeeper.Replanned replanned =
        plan.replan(
            turn,
            before,
            Concerned.by(all, result.definitions()),
            change.holds(),
            told(revision, actor, reason));
    return outcome(result, reading, before, revision, replanned);
  }

  /**
   * Refuses a change to which somebody else must agree first, and has not.
   *
   * @throws Agreement.Missing where that is so
   */
  public void refuseUnagreed(Change change) {
    Definitions before = engine.definitions();
    DefinitionReader.Reading reading = read(change, before);
    List<Document> all =
        new ArrayList<>(
            reading.documents().stream().filter(document -> !isSame(document, before)).toList());
    all.addAll(reading.gone());
    Definitions after = DefinitionCheck.check(before, reading, plan.today()).definitions();
    Agreement.refuse(agreement.departments(), all, before, after, change.agreed());
  }

  /** Where it comes from, and from when it holds where that is not the usual. */
  private static String origin(Change change) {
    String holds = change.holds().isPlain() ? "" : "holds " + change.holds().inWords();
    return change.origin().isEmpty() || holds.isEmpty()
        ? change.origin() + holds
        : change.origin() + ", " + holds;
  }

  private static String told(long revision, AuditTrail.Actor actor, String reason) {
    String why = reason.isBlank() ? "" : ": " + Shorten.text(reason.strip(), 200);
    return "revision " + revision + ", published by " + actor.name() + why;
  }

  private static void refuseOutdated(Turn turn, Optional<Long> seen) {
    if (seen.isPresent() && seen.get() != turn.revision()) {
      throw new Outdated(seen.get(), turn.revision());
    }
  }

  private static boolean isSame(Document document, Definitions before) {
    return before
        .document(document.kind(), document.name())
        .filter(old -> old.isSame(document))
        .isPresent();
  }

  private Outcome outcome(
      DefinitionCheck.Result result,
      DefinitionReader.Reading reading,
      Definitions before,
      long revision,
      PlanKeeper.Replanned replanned) {
    List<String> added = new ArrayList<>();
    List<String> changed = new ArrayList<>();
    List<String> unchanged = new ArrayList<>();
    for (Document document : reading.documents()) {
      String name = document.kind().word() + " " + document.name();
      boolean known = before.document(document.kind(), document.name()).isPresent();
      (!known ? added : isSame(document, before) ? unchanged : changed).add(name);
    }
    return new Outcome(
        result.isSound(),
        revision,
        added,
        changed,
        unchanged,
        reading.gone().stream().map(one -> one.kind().word() + " " + one.name()).toList(),
        replanned,
        result.problems());
  }
}
