package dev.purser.core.pursuit;

import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.run.Ending;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How far one attempt of a call has come: a value that is kept, and from which the attempt goes on
 * after a crash at any point. Whoever carries it out asks for the {@link #deed}, keeps {@link
 * #asking} before it asks, does the deed, and gives the answer to {@link #heard}.
 *
 * <p>Nothing is begun twice: where it is not known whether the service has begun, it is asked again
 * with the same key, or its list is searched for the key; where it has neither, a person says it.
 * No end is taken for granted: only a word whose meaning is described ends it well.
 *
 * @param phase where it is
 * @param key by which the service may know this start again
 * @param asked when it was last asked to begin, and no answer has been kept yet
 * @param awaySince since when no answer could be had
 * @param pause before the next look
 * @param due when something is to be done next
 * @param remote what is known of the work there
 * @param stop that it is to stop
 * @param ending how it ended
 */
public record Pursuit(
    Phase phase,
    String key,
    Optional<Instant> asked,
    Optional<Instant> awaySince,
    Duration pause,
    Instant due,
    Remote remote,
    Optional<Stop> stop,
    Optional<Ending> ending) {
  /** An unanswered request can be on its way for this long: a list is believed only after it. */
  public static final Duration SETTLES = Duration.ofSeconds(45);

  /** So long a service may not know yet what it has just begun. */
  public static final Duration NOT_KNOWN_YET = Duration.ofMinutes(1);

  private static final Duration SOON = Duration.ofSeconds(2);

  /** Where it is. */
  public enum Phase {
    /** Looks whether the same runs there already, or for the latest. */
    CHOOSING,
    /** Asks it to begin. */
    ASKING,
    /** Does not know whether it has begun, and finds out. */
    UNCLEAR,
    /** Nobody but a person can say whether it has begun. */
    PERSON,
    /** Follows it by its id. */
    FOLLOWING,
    /** Has ended. */
    ENDED
  }

  /** What is done next. */
  public enum Deed {
    LIST,
    ASK,
    LOOK,
    STOP,
    REST,
    NOTHING
  }

  /**
   * What is known of the work there.
   *
   * @param id empty before it is known
   * @param since when the id became known
   * @param word its last word for its state
   */
  public record Remote(
      String id,
      Optional<Instant> since,
      String link,
      String word,
      String error,
      String progress,
      Map<String, String> values) {
    static final Remote NONE = new Remote("", Optional.empty(), "", "", "", "", Map.of());

    /** Copies the values. */
    public Remote {
      values = Map.copyOf(values);
    }
  }

  /**
   * That it is to stop.
   *
   * @param forced from when on it is let go, whatever the service says
   * @param told whether the service has been told
   */
  public record Stop(Instant forced, boolean told) {}

  /**
   * A next state.
   *
   * @param says lines for the output
   */
  public record Move(Pursuit next, List<String> says) {}

  /**
   * At its beginning.
   *
   * @param id of what is followed, where the job names it; else empty
   */
  public static Pursuit begins(Call call, String key, String id, Instant now) {
    boolean knows = call.follows() && !id.isEmpty();
    boolean looksFirst = call.follows() || call.already() != Call.Already.START;
    Phase phase = knows ? Phase.FOLLOWING : looksFirst ? Phase.CHOOSING : Phase.ASKING;
    return new Pursuit(
        phase,
        key,
        Optional.empty(),
        Optional.empty(),
        call.every(),
        now,
        knows ? new Remote(id, Optional.empty(), "", "", "", "", Map.of()) : Remote.NONE,
        Optional.empty(),
        Optional.empty());
  }

  /** A person says as what it runs there. */
  public Move runsAs(String id, Call call, Instant now) {
    return known(id, "", PursuitWords.runsAs(id, ""), call, now);
  }

  /** A person says that it did not begin: it is asked anew. */
  public Pursuit didNotStart(Instant now) {
    return in(Phase.ASKING).unasked().dueAt(now).answered();
  }

  /** As it goes on after a crash: what was asked without an answer on record is unclear. */
  public Move takenUp(Operation operation, Instant now) {
    Pursuit next = dueAt(now);
    if (phase != Phase.ASKING || asked.isEmpty()) {
      return new Move(next, List.of());
    }
    return knowsKeys(operation) || listsKeys(operation)
        ? new Move(next.in(Phase.UNCLEAR), List.of(PursuitWords.cutOff()))
        : next.asks(PursuitWords.cutOff(), now);
  }

  /** What is to be done now. */
  public Deed deed(Operation operation, Instant now) {
    if (phase == Phase.ENDED) {
      return Deed.NOTHING;
    }
    if (now.isBefore(due)) {
      return Deed.REST;
    }
    return switch (phase) {
      case CHOOSING -> Deed.LIST;
      case ASKING -> Deed.ASK;
      case UNCLEAR -> knowsKeys(operation) ? Deed.ASK : Deed.LIST;
      case FOLLOWING ->
          stop.isPresent() && !stop.get().told() && operation.stop().isPresent()
              ? Deed.STOP
              : Deed.LOOK;
      case PERSON -> Deed.REST;
      case ENDED -> Deed.NOTHING;
    };
  }

  static boolean knowsKeys(Operation operation) {
    return !operation.start().keyHeader().isEmpty();
  }

  static boolean listsKeys(Operation operation) {
    return operation.recent().filter(recent -> !recent.key().isEmpty()).isPresent();
  }

  /** Notes that it is asked to begin; this must be kept before the request is sent. */
  public Pursuit asking(Instant now) {
    return new Pursuit(phase, key, Optional.of(now), awaySince, pause, due, remote, stop, ending);
  }

  /** Takes an answer to what was done last. */
  public Move heard(Heard heard, Call call, Operation operation, Instant now) {
    Move move = new Hearing(this, call, operation, now).of(heard);
    return move.next().stop().isPresent() ? stopped(move, operation, now) : move;
  }

  // ---- stopping

  /** Asks it to stop. */
  public Move stopBy(Instant forced, Operation operation, Instant now) {
    return stopped(
        new Move(stopping(new Stop(forced, false)).dueAt(now), List.of()), operation, now);
  }

  /** What its being stopped means by now: after its grace time it is let go. */
  public Move pressed(Operation operation, Instant now) {
    Move same = new Move(this, List.of());
    return stop.isPresent() ? stopped(same, operation, now) : same;
  }

  /** What has not begun ends at once; what cannot be stopped there is let go. */
  private static Move stopped(Move move, Operation operation, Instant now) {
    Pursuit next = move.next();
    boolean over = !now.isBefore(next.stop().orElseThrow().forced());
    String id = next.remote().id();
    return switch (next.phase()) {
      case CHOOSING -> next.letGo(move, Call.STOPPED, PursuitWords.stoppedBefore());
      case ASKING ->
          next.asked().isEmpty()
              ? next.letGo(move, Call.STOPPED, PursuitWords.stoppedBefore())
              : move;
      case UNCLEAR, PERSON ->
          over ? next.and(move, next.ends(lost(PursuitWords.stoppedUnclear()), "")) : move;
      case FOLLOWING ->
          operation.stop().isEmpty()
              ? next.letGo(move, Call.STOPPED, PursuitWords.cannotBeStopped(id))
              : over ? next.letGo(move, 137, PursuitWords.doesNotStop(id)) : move;
      case ENDED -> move;
    };
  }

  private Move letGo(Move before, int code, String why) {
    return and(before, ends(new Ending(Ending.Kind.EXITED, code, why), why));
  }

  private Move and(Move before, Move then) {
    List<String> says = new ArrayList<>(before.says());
    then.says().stream().filter(text -> !text.isEmpty()).forEach(says::add);
    return new Move(then.next(), says);
  }

  Move neverBegun(String why) {
    return ends(notStarted(why), why);
  }

  static Ending notStarted(String why) {
    return new Ending(Ending.Kind.NOT_STARTED, -1, why);
  }

  static Ending lost(String why) {
    return new Ending(Ending.Kind.LOST, -1, why);
  }

  // ---- moves that its answers and people share

  /** Its id is known: it is followed, unless it was only to be started. */
  Move known(String id, String link, String says, Call call, Instant now) {
    Pursuit next = following(id, link, call, now);
    return call.until() == Call.Until.STARTED
        ? new Move(next.ended(Ending.exited(0)), List.of(says, PursuitWords.leftToRun()))
        : new Move(next, List.of(says));
  }

  /** Nobody but a person can say whether it has begun. */
  Move asks(String why, Instant now) {
    return new Move(in(Phase.PERSON).dueAt(now), List.of(why, PursuitWords.aPersonMustSay()));
  }

  // ---- the same with one thing changed

  Move ends(Ending how, String says) {
    return new Move(ended(how), says.isEmpty() ? List.of() : List.of(says));
  }

  Pursuit following(String id, String link, Call call, Instant now) {
    Remote then = new Remote(id, Optional.of(now), link, "", "", "", Map.of());
    return new Pursuit(
        Phase.FOLLOWING,
        key,
        asked,
        Optional.empty(),
        call.every(),
        now.plus(call.every()),
        then,
        stop,
        ending);
  }

  Pursuit in(Phase other) {
    return new Pursuit(other, key, asked, awaySince, pause, due, remote, stop, ending);
  }

  Pursuit unasked() {
    return new Pursuit(phase, key, Optional.empty(), awaySince, pause, due, remote, stop, ending);
  }

  Pursuit answered() {
    return new Pursuit(phase, key, asked, Optional.empty(), pause, due, remote, stop, ending);
  }

  Pursuit dueAt(Instant then) {
    return new Pursuit(phase, key, asked, awaySince, pause, then, remote, stop, ending);
  }

  /** After its pause; while it is being stopped, soon. */
  Pursuit later(Call call, Instant now) {
    Duration rest = stop.isPresent() && SOON.compareTo(pause) < 0 ? SOON : pause;
    return new Pursuit(
        phase, key, asked, awaySince, longer(call), now.plus(rest), remote, stop, ending);
  }

  Duration longer(Call call) {
    Duration next = pause.multipliedBy(3).dividedBy(2);
    return next.compareTo(call.growingTo()) < 0 ? next : call.growingTo();
  }

  Pursuit waitingFor(String id) {
    return knowing(
        new Remote("", Optional.empty(), "", PursuitWords.waitsFor(id), "", "", Map.of()));
  }

  Pursuit knowing(Remote then) {
    return new Pursuit(phase, key, asked, awaySince, pause, due, then, stop, ending);
  }

  Pursuit stopping(Stop then) {
    return new Pursuit(phase, key, asked, awaySince, pause, due, remote, Optional.of(then), ending);
  }

  Pursuit ended(Ending how) {
    return new Pursuit(
        Phase.ENDED, key, asked, awaySince, pause, due, remote, stop, Optional.of(how));
  }
}
