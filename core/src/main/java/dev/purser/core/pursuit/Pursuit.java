package dev.purser.core.pursuit;

import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.run.Ending;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
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

  private static final Duration LONGEST_WAIT = Duration.ofMinutes(5);
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

  private static boolean knowsKeys(Operation operation) {
    return !operation.start().keyHeader().isEmpty();
  }

  private static boolean listsKeys(Operation operation) {
    return operation.recent().filter(recent -> !recent.key().isEmpty()).isPresent();
  }

  /** Notes that it is asked to begin; this must be kept before the request is sent. */
  public Pursuit asking(Instant now) {
    return new Pursuit(phase, key, Optional.of(now), awaySince, pause, due, remote, stop, ending);
  }

  /** Takes an answer to what was done last. */
  public Move heard(Heard heard, Call call, Operation operation, Instant now) {
    Move move =
        switch (phase) {
          case CHOOSING -> choose(heard, call, operation, now);
          case ASKING, UNCLEAR -> whetherBegun(heard, call, operation, now);
          case FOLLOWING -> follow(heard, call, operation, now);
          case PERSON, ENDED -> new Move(this, List.of());
        };
    return move.next().stop().isPresent() ? stopped(move, operation, now) : move;
  }

  // ---- before it is begun

  private Move choose(Heard heard, Call call, Operation operation, Instant now) {
    if (heard instanceof Heard.Listed listed) {
      Optional<Heard.Item> latest =
          listed.items().stream()
              .filter(item -> isWithin(item, now.minus(call.looksBack())))
              .findFirst();
      return call.follows() ? latest(latest, call, now) : beside(latest, call, operation, now);
    }
    if (heard instanceof Heard.NoSuchThing none) {
      return ends(notStarted(none.why()), PursuitWords.noSuchThing(none.why()));
    }
    if (heard instanceof Heard.Refused refused) {
      return ends(notStarted(refused.why()), refused.why());
    }
    return away(heard, call, now, this::neverBegun);
  }

  private static boolean isWithin(Heard.Item item, Instant from) {
    return item.started().filter(started -> started.isBefore(from)).isEmpty();
  }

  private Move latest(Optional<Heard.Item> found, Call call, Instant now) {
    if (found.isEmpty()) {
      String why = PursuitWords.noneInRange(call.looksBack());
      return ends(new Ending(Ending.Kind.NO_VALUE, -1, why), why);
    }
    String id = found.get().id();
    return new Move(following(id, "", call, now), List.of(PursuitWords.isLatest(id)));
  }

  private Move beside(Optional<Heard.Item> latest, Call call, Operation operation, Instant now) {
    boolean runs =
        latest
            .flatMap(item -> meaning(operation, item.word()))
            .filter(Operation.Meaning.RUNNING::equals)
            .isPresent();
    if (!runs) {
      return new Move(in(Phase.ASKING).answered().dueAt(now), List.of());
    }
    String id = latest.get().id();
    return switch (call.already()) {
      case ADOPT -> known(id, "", PursuitWords.adopted(id), call, now);
      case SKIP ->
          ends(
              new Ending(Ending.Kind.NOTHING_TO_DO, -1, PursuitWords.runsAlready(id)),
              PursuitWords.runsAlready(id));
      case WAIT -> {
        boolean told = remote.word().equals(PursuitWords.waitsFor(id));
        yield new Move(
            answered().waitingFor(id).later(call, now),
            told ? List.of() : List.of(PursuitWords.waitsFor(id)));
      }
      case START -> new Move(in(Phase.ASKING).dueAt(now), List.of());
    };
  }

  // ---- whether it has begun

  private Move whetherBegun(Heard heard, Call call, Operation operation, Instant now) {
    boolean known = phase == Phase.ASKING;
    if (heard instanceof Heard.Begun begun) {
      return begun(begun, call, now);
    }
    if (heard instanceof Heard.Listed listed) {
      return searched(listed, call, now);
    }
    if (heard instanceof Heard.Refused refused) {
      return known
          ? ends(new Ending(Ending.Kind.EXITED, Call.FAILED, refused.why()), refused.why())
          : asks(PursuitWords.refusedAgain(refused.why()), now);
    }
    if (heard instanceof Heard.NoSuchThing none && known) {
      return ends(new Ending(Ending.Kind.EXITED, Call.FAILED, none.why()), none.why());
    }
    if (heard instanceof Heard.Unclear unclear && known) {
      Pursuit next = in(Phase.UNCLEAR).later(call, now);
      return knowsKeys(operation) || listsKeys(operation)
          ? new Move(next, List.of(PursuitWords.unclear(unclear.why())))
          : next.asks(PursuitWords.unclear(unclear.why()), now);
    }
    if (phase == Phase.UNCLEAR && !knowsKeys(operation) && !listsKeys(operation)) {
      return asks(PursuitWords.cannotBeKnown(), now);
    }
    return known
        ? unasked().away(heard, call, now, this::neverBegun)
        : away(heard, call, now, why -> asks(PursuitWords.unclear(why), now));
  }

  private Move begun(Heard.Begun begun, Call call, Instant now) {
    String says = PursuitWords.runsAs(begun.id(), begun.link());
    return known(begun.id(), begun.link(), says, call, now);
  }

  /** Its id is known: it is followed, unless it was only to be started. */
  private Move known(String id, String link, String says, Call call, Instant now) {
    Pursuit next = following(id, link, call, now);
    return call.until() == Call.Until.STARTED
        ? new Move(next.ended(Ending.exited(0)), List.of(says, PursuitWords.leftToRun()))
        : new Move(next, List.of(says));
  }

  /** A list is believed once what was asked cannot be on its way any more. */
  private Move searched(Heard.Listed listed, Call call, Instant now) {
    Optional<Heard.Item> own =
        listed.items().stream().filter(item -> item.key().equals(key)).findFirst();
    if (own.isPresent()) {
      return begun(new Heard.Begun(own.get().id(), ""), call, now);
    }
    boolean settled = asked.filter(at -> now.isBefore(at.plus(SETTLES))).isEmpty();
    return settled
        ? new Move(didNotStart(now), List.of(PursuitWords.notInList()))
        : new Move(answered().later(call, now), List.of());
  }

  private Move asks(String why, Instant now) {
    return new Move(in(Phase.PERSON).dueAt(now), List.of(why, PursuitWords.aPersonMustSay()));
  }

  // ---- while it runs there

  private Move follow(Heard heard, Call call, Operation operation, Instant now) {
    if (heard instanceof Heard.ToldToStop) {
      Stop told = new Stop(stop.orElseThrow().forced(), true);
      return new Move(answered().stopping(told).dueAt(now), List.of(PursuitWords.toldToStop()));
    }
    if (heard instanceof Heard.Seen seen) {
      return seen(seen, call, operation, now);
    }
    if (heard instanceof Heard.NoSuchThing none) {
      boolean fresh =
          remote.since().filter(since -> now.isBefore(since.plus(NOT_KNOWN_YET))).isPresent();
      return fresh
          ? new Move(later(call, now), List.of())
          : ends(lost(PursuitWords.forgotten(remote.id())), none.why());
    }
    return away(heard, call, now, why -> ends(lost(PursuitWords.lostSight(remote.id(), why)), why));
  }

  private Move seen(Heard.Seen seen, Call call, Operation operation, Instant now) {
    Remote then =
        new Remote(
            remote.id(),
            remote.since(),
            seen.link().isEmpty() ? remote.link() : seen.link(),
            seen.word(),
            seen.error(),
            seen.progress(),
            seen.values());
    List<String> says = new ArrayList<>();
    if (awaySince.isPresent()) {
      says.add(PursuitWords.backAfter(Duration.between(awaySince.get(), now)));
    }
    boolean changed =
        !seen.word().equals(remote.word()) || !seen.progress().equals(remote.progress());
    Optional<Operation.Meaning> meaning = meaning(operation, seen.word());
    if (changed) {
      says.add(
          meaning.isPresent()
              ? PursuitWords.stands(seen.word(), seen.progress())
              : PursuitWords.unknownWord(seen.word()));
    }
    Pursuit next = answered().knowing(then).later(call, now);
    Optional<Ending> end = meaning.flatMap(found -> ending(found, seen));
    end.map(Ending::note).filter(note -> !note.isEmpty()).ifPresent(says::add);
    return new Move(end.map(next::ended).orElse(next), says);
  }

  private Optional<Ending> ending(Operation.Meaning meaning, Heard.Seen seen) {
    return switch (meaning) {
      case RUNNING -> Optional.empty();
      case SUCCEEDED -> Optional.of(Ending.exited(0));
      case FAILED -> Optional.of(new Ending(Ending.Kind.EXITED, Call.FAILED, seen.error()));
      case CANCELLED ->
          Optional.of(
              stop.isPresent()
                  ? new Ending(Ending.Kind.EXITED, Call.STOPPED, PursuitWords.stoppedThere())
                  : new Ending(Ending.Kind.EXITED, Call.CANCELLED, PursuitWords.cancelledThere()));
    };
  }

  /** What a word means; empty where nothing says it. */
  static Optional<Operation.Meaning> meaning(Operation operation, String word) {
    return Optional.ofNullable(operation.look().words().get(word.toLowerCase(Locale.ROOT)));
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

  // ---- an outage

  private interface Beyond {
    Move move(String why);
  }

  /** Bears an outage for as long as the job says. */
  private Move away(Heard heard, Call call, Instant now, Beyond beyond) {
    String why =
        heard instanceof Heard.Away one
            ? one.why()
            : heard instanceof Heard.Unclear one
                ? one.why()
                : heard instanceof Heard.Refused one
                    ? one.why()
                    : heard instanceof Heard.NoSuchThing one ? one.why() : "";
    Instant since = awaySince.orElse(now);
    if (!now.isBefore(since.plus(call.bearsOutage()))) {
      return beyond.move(PursuitWords.awayFor(why, Duration.between(since, now)));
    }
    Duration wait =
        heard instanceof Heard.Away one
            ? one.comeBackAfter().filter(asks -> asks.compareTo(pause) > 0).orElse(pause)
            : pause;
    Instant next = now.plus(wait.compareTo(LONGEST_WAIT) < 0 ? wait : LONGEST_WAIT);
    Instant last = since.plus(call.bearsOutage());
    Pursuit then =
        new Pursuit(
            phase,
            key,
            asked,
            Optional.of(since),
            longer(call),
            next.isBefore(last) ? next : last,
            remote,
            stop,
            ending);
    return new Move(
        then, awaySince.isPresent() ? List.of() : List.of(PursuitWords.away(why, call)));
  }

  private Move neverBegun(String why) {
    return ends(notStarted(why), why);
  }

  private static Ending notStarted(String why) {
    return new Ending(Ending.Kind.NOT_STARTED, -1, why);
  }

  private static Ending lost(String why) {
    return new Ending(Ending.Kind.LOST, -1, why);
  }

  // ---- the same with one thing changed

  private Move ends(Ending how, String says) {
    return new Move(ended(how), says.isEmpty() ? List.of() : List.of(says));
  }

  private Pursuit following(String id, String link, Call call, Instant now) {
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

  private Pursuit in(Phase other) {
    return new Pursuit(other, key, asked, awaySince, pause, due, remote, stop, ending);
  }

  private Pursuit unasked() {
    return new Pursuit(phase, key, Optional.empty(), awaySince, pause, due, remote, stop, ending);
  }

  private Pursuit answered() {
    return new Pursuit(phase, key, asked, Optional.empty(), pause, due, remote, stop, ending);
  }

  private Pursuit dueAt(Instant then) {
    return new Pursuit(phase, key, asked, awaySince, pause, then, remote, stop, ending);
  }

  /** After its pause; while it is being stopped, soon. */
  private Pursuit later(Call call, Instant now) {
    Duration rest = stop.isPresent() && SOON.compareTo(pause) < 0 ? SOON : pause;
    return new Pursuit(
        phase, key, asked, awaySince, longer(call), now.plus(rest), remote, stop, ending);
  }

  private Duration longer(Call call) {
    Duration next = pause.multipliedBy(3).dividedBy(2);
    return next.compareTo(call.growingTo()) < 0 ? next : call.growingTo();
  }

  private Pursuit waitingFor(String id) {
    return knowing(
        new Remote("", Optional.empty(), "", PursuitWords.waitsFor(id), "", "", Map.of()));
  }

  private Pursuit knowing(Remote then) {
    return new Pursuit(phase, key, asked, awaySince, pause, due, then, stop, ending);
  }

  private Pursuit stopping(Stop then) {
    return new Pursuit(phase, key, asked, awaySince, pause, due, remote, Optional.of(then), ending);
  }

  private Pursuit ended(Ending how) {
    return new Pursuit(
        Phase.ENDED, key, asked, awaySince, pause, due, remote, stop, Optional.of(how));
  }
}
