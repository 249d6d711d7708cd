package dev.purser.core.pursuit;

import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.run.Ending;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What an answer means for a pursuit, by where it is and what its operation describes. */
final class Hearing {
  private static final Duration LONGEST_WAIT = Duration.ofMinutes(5);

  private final Pursuit at;
  private final Call call;
  private final Operation operation;
  private final Instant now;

  Hearing(Pursuit at, Call call, Operation operation, Instant now) {
    this.at = at;
    this.call = call;
    this.operation = operation;
    this.now = now;
  }

  /** Takes an answer to what was done last. */
  Pursuit.Move of(Heard heard) {
    return switch (at.phase()) {
      case CHOOSING -> choose(heard);
      case ASKING, UNCLEAR -> whetherBegun(heard);
      case FOLLOWING -> follow(heard);
      case PERSON, ENDED -> new Pursuit.Move(at, List.of());
    };
  }

  // ---- before it is begun

  private Pursuit.Move choose(Heard heard) {
    if (heard instanceof Heard.Listed listed) {
      Optional<Heard.Item> latest =
          listed.items().stream()
              .filter(item -> isWithin(item, now.minus(call.looksBack())))
              .findFirst();
      return call.follows() ? latest(latest) : beside(latest);
    }
    if (heard instanceof Heard.NoSuchThing none) {
      return at.ends(Pursuit.notStarted(none.why()), PursuitWords.noSuchThing(none.why()));
    }
    if (heard instanceof Heard.Refused) {
      return at.ends(Pursuit.notStarted(heard.why()), heard.why());
    }
    return away(heard, at::neverBegun);
  }

  private static boolean isWithin(Heard.Item item, Instant from) {
    return item.started().filter(started -> started.isBefore(from)).isEmpty();
  }

  private Pursuit.Move latest(Optional<Heard.Item> found) {
    if (found.isEmpty()) {
      String why = PursuitWords.noneInRange(call.looksBack());
      return at.ends(new Ending(Ending.Kind.NO_VALUE, -1, why), why);
    }
    String id = found.get().id();
    return new Pursuit.Move(at.following(id, "", call, now), List.of(PursuitWords.isLatest(id)));
  }

  private Pursuit.Move beside(Optional<Heard.Item> latest) {
    boolean runs =
        latest
            .flatMap(item -> meaning(item.word()))
            .filter(Operation.Meaning.RUNNING::equals)
            .isPresent();
    if (!runs) {
      return new Pursuit.Move(at.in(Pursuit.Phase.ASKING).answered().dueAt(now), List.of());
    }
    String id = latest.get().id();
    return switch (call.already()) {
      case ADOPT -> at.known(id, "", PursuitWords.adopted(id), call, now);
      case SKIP ->
          at.ends(
              new Ending(Ending.Kind.NOTHING_TO_DO, -1, PursuitWords.runsAlready(id)),
              PursuitWords.runsAlready(id));
      case WAIT -> {
        boolean told = at.remote().word().equals(PursuitWords.waitsFor(id));
        yield new Pursuit.Move(
            at.answered().waitingFor(id).later(call, now),
            told ? List.of() : List.of(PursuitWords.waitsFor(id)));
      }
      case START -> new Pursuit.Move(at.in(Pursuit.Phase.ASKING).dueAt(now), List.of());
    };
  }

  // ---- whether it has begun

  private Pursuit.Move whetherBegun(Heard heard) {
    boolean known = at.phase() == Pursuit.Phase.ASKING;
    if (heard instanceof Heard.Begun begun) {
      return begun(begun);
    }
    if (heard instanceof Heard.Listed listed) {
      return searched(listed);
    }
    if (heard instanceof Heard.Refused refused) {
      return known
          ? at.ends(new Ending(Ending.Kind.EXITED, Call.FAILED, refused.why()), refused.why())
          : at.asks(PursuitWords.refusedAgain(refused.why()), now);
    }
    if (known && (heard instanceof Heard.NoSuchThing || heard instanceof Heard.NotAsked)) {
      return at.ends(new Ending(Ending.Kind.EXITED, Call.FAILED, heard.why()), heard.why());
    }
    if (heard instanceof Heard.Unclear unclear && known) {
      Pursuit next = at.in(Pursuit.Phase.UNCLEAR).later(call, now);
      return Pursuit.knowsKeys(operation) || Pursuit.listsKeys(operation)
          ? new Pursuit.Move(next, List.of(PursuitWords.unclear(unclear.why())))
          : next.asks(PursuitWords.unclear(unclear.why()), now);
    }
    if (at.phase() == Pursuit.Phase.UNCLEAR
        && !Pursuit.knowsKeys(operation)
        && !Pursuit.listsKeys(operation)) {
      return at.asks(PursuitWords.cannotBeKnown(), now);
    }
    return known
        ? new Hearing(at.unasked(), call, operation, now).away(heard, at::neverBegun)
        : away(heard, why -> at.asks(PursuitWords.unclear(why), now));
  }

  private Pursuit.Move begun(Heard.Begun begun) {
    String says = PursuitWords.runsAs(begun.id(), begun.link());
    return at.known(begun.id(), begun.link(), says, call, now);
  }

  /** A list is believed once what was asked cannot be on its way any more. */
  private Pursuit.Move searched(Heard.Listed listed) {
    Optional<Heard.Item> own =
        listed.items().stream().filter(item -> item.key().equals(at.key())).findFirst();
    if (own.isPresent()) {
      return begun(new Heard.Begun(own.get().id(), ""));
    }
    boolean settled = at.asked().filter(then -> now.isBefore(then.plus(Pursuit.SETTLES))).isEmpty();
    return settled
        ? new Pursuit.Move(at.didNotStart(now), List.of(PursuitWords.notInList()))
        : new Pursuit.Move(at.answered().later(call, now), List.of());
  }

  // ---- while it runs there

  private Pursuit.Move follow(Heard heard) {
    if (heard instanceof Heard.ToldToStop) {
      Pursuit.Stop told = new Pursuit.Stop(at.stop().orElseThrow().forced(), true);
      return new Pursuit.Move(
          at.answered().stopping(told).dueAt(now), List.of(PursuitWords.toldToStop()));
    }
    if (heard instanceof Heard.Seen seen) {
      return seen(seen);
    }
    if (heard instanceof Heard.NoSuchThing none) {
      boolean fresh =
          at.remote()
              .since()
              .filter(since -> now.isBefore(since.plus(Pursuit.NOT_KNOWN_YET)))
              .isPresent();
      return fresh
          ? new Pursuit.Move(at.later(call, now), List.of())
          : at.ends(Pursuit.lost(PursuitWords.forgotten(at.remote().id())), none.why());
    }
    return away(
        heard, why -> at.ends(Pursuit.lost(PursuitWords.lostSight(at.remote().id(), why)), why));
  }

  private Pursuit.Move seen(Heard.Seen seen) {
    Pursuit.Remote then =
        new Pursuit.Remote(
            at.remote().id(),
            at.remote().since(),
            seen.link().isEmpty() ? at.remote().link() : seen.link(),
            seen.word(),
            seen.error(),
            seen.progress(),
            seen.values());
    List<String> says = new ArrayList<>();
    if (at.awaySince().isPresent()) {
      says.add(PursuitWords.backAfter(Duration.between(at.awaySince().get(), now)));
    }
    boolean changed =
        !seen.word().equals(at.remote().word()) || !seen.progress().equals(at.remote().progress());
    Optional<Operation.Meaning> meaning = meaning(seen.word());
    if (changed) {
      says.add(
          meaning.isPresent()
              ? PursuitWords.stands(seen.word(), seen.progress())
              : PursuitWords.unknownWord(seen.word()));
    }
    Pursuit next = at.answered().knowing(then).later(call, now);
    Optional<Ending> end = meaning.flatMap(found -> ending(found, seen));
    end.map(Ending::note).filter(note -> !note.isEmpty()).ifPresent(says::add);
    return new Pursuit.Move(end.map(next::ended).orElse(next), says);
  }

  private Optional<Ending> ending(Operation.Meaning meaning, Heard.Seen seen) {
    return switch (meaning) {
      case RUNNING -> Optional.empty();
      case SUCCEEDED -> Optional.of(Ending.exited(0));
      case FAILED -> Optional.of(new Ending(Ending.Kind.EXITED, Call.FAILED, seen.error()));
      case CANCELLED ->
          Optional.of(
              at.stop().isPresent()
                  ? new Ending(Ending.Kind.EXITED, Call.STOPPED, PursuitWords.stoppedThere())
                  : new Ending(Ending.Kind.EXITED, Call.CANCELLED, PursuitWords.cancelledThere()));
    };
  }

  /** What a word means; empty where nothing says it. */
  private Optional<Operation.Meaning> meaning(String word) {
    return Optional.ofNullable(operation.look().words().get(word.toLowerCase(Locale.ROOT)));
  }

  // ---- an outage

  private interface Beyond {
    Pursuit.Move move(String why);
  }

  /** Bears an outage for as long as the job says. */
  private Pursuit.Move away(Heard heard, Beyond beyond) {
    String why = heard.why();
    Instant since = at.awaySince().orElse(now);
    if (!now.isBefore(since.plus(call.bearsOutage()))) {
      return beyond.move(PursuitWords.awayFor(why, Duration.between(since, now)));
    }
    Duration wait =
        heard instanceof Heard.Away one
            ? one.comeBackAfter().filter(asks -> asks.compareTo(at.pause()) > 0).orElse(at.pause())
            : at.pause();
    Instant next = now.plus(wait.compareTo(LONGEST_WAIT) < 0 ? wait : LONGEST_WAIT);
    Instant last = since.plus(call.bearsOutage());
    Pursuit then =
        new Pursuit(
            at.phase(),
            at.key(),
            at.asked(),
            Optional.of(since),
            at.longer(call),
            next.isBefore(last) ? next : last,
            at.remote(),
            at.stop(),
            at.ending());
    return new Pursuit.Move(
        then, at.awaySince().isPresent() ? List.of() : List.of(PursuitWords.away(why, call)));
  }
}
