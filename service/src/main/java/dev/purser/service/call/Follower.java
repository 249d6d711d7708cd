package dev.purser.service.call;

import dev.purser.core.definition.Definitions;
import dev.purser.core.pursuit.Heard;
import dev.purser.core.pursuit.Pursuit;
import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.remote.RemoteService;
import dev.purser.core.run.Ending;
import dev.purser.remote.call.Caller;
import dev.purser.service.work.Attempt;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * One attempt at a remote service. It does one thing at a time: its methods are called from many
 * threads, and take turns. Whatever it learns is kept before the next thing is done; where the
 * database is away, it waits for it.
 */
final class Follower {
  private static final Logger LOG = LoggerFactory.getLogger(Follower.class);
  private static final DateTimeFormatter CLOCK = DateTimeFormatter.ofPattern("HH:mm:ss");
  private static final long AGAIN_MILLIS = 2_000;
  private static final Duration LONGEST_REST = Duration.ofHours(1);

  private final CallWorker worker;
  private final Attempt attempt;
  private final Call call;
  private final Map<String, String> filled;

  private Pursuit pursuit;

  /** As it is on record. */
  private Pursuit kept;

  private final List<String> toSay = new ArrayList<>();
  private Operation operation;
  private boolean busy;
  private boolean begunTold;
  private String noteTold = "";
  private boolean letGo;
  private boolean toTakeUp;
  private ScheduledFuture<?> timer;

  Follower(CallWorker worker, Attempt attempt, Call call, RemoteCalls.Kept kept) {
    this.worker = worker;
    this.attempt = attempt;
    this.call = call;
    this.filled = kept.filled();
    this.pursuit = kept.pursuit();
    this.kept = kept.pursuit();
    this.begunTold = attempt.status().state() == dev.purser.core.run.RunState.RUNNING;
  }

  synchronized void begin() {
    say(call.inWords());
    go();
  }

  synchronized void takeUp() {
    toTakeUp = true;
    go();
  }

  synchronized void letGo() {
    letGo = true;
  }

  synchronized void stop(Instant forced) {
    if (pursuit.stop().isEmpty() && operation().isPresent()) {
      take(pursuit.stopBy(forced, operation().get(), worker.now()));
    }
    go();
  }

  synchronized boolean asksPerson() {
    return !letGo && pursuit.phase() == Pursuit.Phase.PERSON;
  }

  synchronized void said(String id) {
    if (asksPerson()) {
      if (id.isEmpty()) {
        say("a person says that it did not begin: it is asked for anew");
        pursuit = pursuit.didNotStart(worker.now());
      } else {
        take(pursuit.runsAs(id, call, worker.now()));
      }
      go(); // at once, so that whoever said it reads what became of it
    }
  }

  /** The operation as it is described now; as it was, where its description is gone. */
  private Optional<Operation> operation() {
    CallWorker.operation(worker.definitions(), call).ifPresent(found -> operation = found);
    return Optional.ofNullable(operation);
  }

  // ---- step by step

  private synchronized void go() {
    if (letGo || busy) {
      return;
    }
    try {
      if (operation().isEmpty()) {
        tell("the description of " + call.service() + " is gone: nobody can look there");
        schedule(TimeUnit.SECONDS.toMillis(30));
        return;
      }
      if (toTakeUp) { // before anything is asked, however long its description was gone
        take(pursuit.takenUp(operation, worker.now()));
        toTakeUp = false;
      }
      if (pursuit.stop().isPresent()) {
        take(pursuit.pressed(operation, worker.now()));
      }
      keep();
      next();
    } catch (RuntimeException e) {
      LOG.warn("a call cannot go on now, and is tried again: {}", String.valueOf(e.getMessage()));
      schedule(AGAIN_MILLIS);
    }
  }

  private void next() {
    Instant now = worker.now();
    switch (pursuit.deed(operation, now)) {
      case REST -> rest(now);
      case NOTHING -> end();
      case LIST -> list(now);
      case LOOK -> ask(caller -> caller.look(pursuit.remote().id()));
      case STOP -> ask(caller -> caller.stop(pursuit.remote().id()));
      case ASK -> {
        pursuit = pursuit.asking(now);
        keep(); // before it is asked
        ask(caller -> caller.start(pursuit.key()));
      }
    }
  }

  private void list(Instant now) {
    if (operation.recent().isEmpty()) {
      hear(new Heard.Unclear("its description has no list of what was begun lately"));
    } else {
      String from = now.minus(call.looksBack()).toString();
      ask(caller -> caller.recent(pursuit.key(), from));
    }
  }

  private void rest(Instant now) {
    boolean waits = pursuit.phase() == Pursuit.Phase.PERSON;
    Duration rest = waits ? LONGEST_REST : Duration.between(now, pursuit.due());
    Duration forced =
        pursuit.stop().map(stop -> Duration.between(now, stop.forced())).orElse(LONGEST_REST);
    Duration next = shorter(shorter(rest, forced), LONGEST_REST);
    schedule(Math.max(0, next.toMillis()) + 1);
  }

  private static Duration shorter(Duration one, Duration other) {
    return one.compareTo(other) < 0 ? one : other;
  }

  private void schedule(long millis) {
    if (timer != null) {
      timer.cancel(false);
    }
    if (!worker.threads().isShutdown()) {
      timer = worker.threads().schedule(this::go, millis, TimeUnit.MILLISECONDS);
    }
  }

  private interface Asking {
    CompletableFuture<Heard> of(Caller caller);
  }

  private void ask(Asking asking) {
    Caller caller;
    try {
      caller = caller();
    } catch (IOException e) {
      hear(new Heard.NotAsked(e.getMessage()));
      return;
    }
    busy = true;
    asking
        .of(caller)
        .whenCompleteAsync(
            (heard, failure) ->
                answered(failure == null ? heard : new Heard.Unclear("it broke off: " + failure)),
            worker.threads());
  }

  private synchronized void answered(Heard heard) {
    busy = false;
    if (!letGo) {
      hear(heard);
    }
  }

  private void hear(Heard heard) {
    take(pursuit.heard(heard, call, operation, worker.now()));
    go();
  }

  private void take(Pursuit.Move move) {
    pursuit = move.next();
    move.says().forEach(this::say);
  }

  private void say(String text) {
    String time = CLOCK.format(worker.now().atZone(attempt.run().run().zone()));
    toSay.add(time + "  " + text + "\n");
  }

  private Caller caller() throws IOException {
    Definitions definitions = worker.definitions();
    RemoteService service =
        definitions
            .remoteService(call.service())
            .orElseThrow(() -> new IOException("there is no remote service " + call.service()));
    return new Caller(
        worker.sites().web(),
        worker.sites().use(definitions, service.connection(), attempt),
        call.service(),
        operation,
        filled);
  }

  // ---- what is kept and told

  /** Puts on record what has changed; what changes only its time is not. */
  private void keep() {
    if (!isSameAs(kept)) {
      worker.records().keep(attempt.id(), attempt.number(), pursuit);
      kept = pursuit;
    }
    if (!toSay.isEmpty()) {
      worker.reports().output(attempt, String.join("", toSay));
      toSay.clear();
    }
    boolean runs = !pursuit.remote().id().isEmpty();
    if (runs && !begunTold) {
      worker.reports().began(attempt);
      begunTold = true;
    }
    if (pursuit.phase() != Pursuit.Phase.ENDED) {
      tell(CallWords.stands(pursuit, call.service()));
    }
  }

  private void tell(String note) {
    if (!note.equals(noteTold)) {
      boolean asks = pursuit.phase() == Pursuit.Phase.PERSON;
      worker.reports().told(attempt, note, asks, known());
      noteTold = note;
    }
  }

  private boolean isSameAs(Pursuit other) {
    return pursuit.phase() == other.phase()
        && pursuit.asked().equals(other.asked())
        && pursuit.awaySince().equals(other.awaySince())
        && pursuit.remote().equals(other.remote())
        && pursuit.stop().equals(other.stop())
        && pursuit.ending().equals(other.ending());
  }

  // ---- its end

  private void end() {
    busy = true;
    logOf()
        .whenCompleteAsync(
            (log, failure) -> over(failure == null ? log : Optional.empty()), worker.threads());
  }

  private CompletableFuture<Optional<String>> logOf() {
    boolean ran = pursuit.ending().orElseThrow().kind() == Ending.Kind.EXITED;
    if (!ran || pursuit.remote().id().isEmpty() || call.until() == Call.Until.STARTED) {
      return CompletableFuture.completedFuture(Optional.empty());
    }
    try {
      return caller().log(pursuit.remote().id());
    } catch (IOException e) {
      return CompletableFuture.completedFuture(Optional.empty());
    }
  }

  private synchronized void over(Optional<String> log) {
    if (letGo) {
      return;
    }
    try {
      if (log.filter(text -> !text.isBlank()).isPresent()) {
        worker.reports().output(attempt, "\n" + log.get().strip() + "\n");
      }
      sayEnd();
    } catch (RuntimeException e) {
      LOG.warn("the log of a call cannot be kept now: {}", String.valueOf(e.getMessage()));
      worker.threads().schedule(() -> over(log), AGAIN_MILLIS, TimeUnit.MILLISECONDS);
    }
  }

  /** Until it is on record. */
  private void sayEnd() {
    worker
        .reports()
        .ended(attempt, pursuit.ending().orElseThrow(), values())
        .whenCompleteAsync(
            (done, failure) -> {
              if (failure == null) {
                worker.gone(attempt, this);
              } else {
                worker.threads().schedule(this::sayEndAgain, AGAIN_MILLIS, TimeUnit.MILLISECONDS);
              }
            },
            worker.threads());
  }

  private synchronized void sayEndAgain() {
    if (!letGo) {
      try {
        sayEnd();
      } catch (RuntimeException e) {
        worker.threads().schedule(this::sayEndAgain, AGAIN_MILLIS, TimeUnit.MILLISECONDS);
      }
    }
  }

  /** What is known as soon as it runs there, for whoever goes on with it. */
  private Map<String, String> known() {
    Map<String, String> known = new LinkedHashMap<>();
    put("remote-id", pursuit.remote().id(), known);
    put("remote-link", pursuit.remote().link(), known);
    return known;
  }

  private Map<String, String> values() {
    Pursuit.Remote remote = pursuit.remote();
    Map<String, String> values = new LinkedHashMap<>(remote.values());
    put("remote-id", remote.id(), values);
    put("remote-state", remote.word(), values);
    put("remote-link", remote.link(), values);
    return values;
  }

  private static void put(String name, String value, Map<String, String> into) {
    if (!value.isEmpty()) {
      into.put(name, value);
    }
  }
}
