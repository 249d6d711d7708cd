package dev.purser.service.live;

import dev.purser.core.event.Instruction;
import dev.purser.service.board.Engine;
import dev.purser.service.people.Pass;
import dev.purser.service.people.Passes;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.http.MediaType;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.security.web.session.HttpSessionDestroyedEvent;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** Tells those who look on what has changed, a few times a second at the most. */
@Component
public class Live {
  private static final int MOST_RUNS = 500;

  /** For some minutes at the fastest. */
  private static final int MOST_REMEMBERED = 1_000;

  private static final List<String> EVERYTHING =
      List.of(
          "today",
          "runs",
          "capacities",
          "holds",
          "arrivals",
          "watches",
          "alerts",
          "hosts",
          "streams",
          "calendars",
          "run",
          "output");

  /** Connections of one person at once; the tabs of a browser share one. */
  private static final int MOST_OF_A_PERSON = 8;

  private final Passes passes;
  private final List<Listener> listeners = new CopyOnWriteArrayList<>();
  private final Set<String> topics = new LinkedHashSet<>();
  private int single;

  /** Tells the numbers of this service's life from those of others. */
  private final String self = Long.toString(System.currentTimeMillis(), 36);

  private final Deque<Told> lately = new ArrayDeque<>();
  private long number;
  private int quiet;

  /**
   * What has changed, in topics: the name of a list ({@code today}, {@code runs}, {@code
   * capacities}, {@code holds}, {@code arrivals}, {@code watches}, {@code alerts}, {@code hosts},
   * {@code streams}, {@code calendars}), or one thing of a kind ({@code run 12}, {@code output
   * 12}). Where more single things have changed than are worth telling, {@code run} and {@code
   * output} stand for all of them.
   */
  public record Changes(List<String> topics) {}

  private record Listener(Pass pass, SseEmitter emitter) {}

  Live(Passes passes) {
    this.passes = passes;
  }

  /**
   * A new listener. Where a person has too many, their oldest one ends.
   *
   * @param pass what lets it in: it ends with that
   * @param lastHeard the id of the last event that it has heard before; empty where it is new. It
   *     is told at once what it has missed, or that everything may have changed
   */
  public SseEmitter listen(Pass pass, String lastHeard) {
    SseEmitter emitter = new SseEmitter(0L);
    Listener listener = new Listener(pass, emitter);
    emitter.onCompletion(() -> listeners.remove(listener));
    emitter.onTimeout(() -> listeners.remove(listener));
    emitter.onError(e -> listeners.remove(listener));
    Told first;
    synchronized (this) { // so that nothing is told between the two
      first = missed(lastHeard);
      listeners.add(listener);
    }
    // at once, so that it is known to be open
    send(emitter, first.changes().topics().isEmpty() ? "alive" : "changes", first);
    List<Listener> theirs =
        listeners.stream().filter(one -> one.pass().person().equals(pass.person())).toList();
    theirs.stream().limit(Math.max(0, theirs.size() - MOST_OF_A_PERSON)).forEach(this::end);
    return emitter;
  }

  private void end(Listener listener) {
    listeners.remove(listener);
    listener.emitter().complete();
  }

  /** A service that stops lets its listeners go: it would wait for each of them else. */
  @EventListener(ContextClosedEvent.class)
  void stopping() {
    listeners.forEach(this::end);
  }

  /** Whoever signs out hears no more. */
  @EventListener
  void ended(HttpSessionDestroyedEvent session) {
    listeners.stream()
        .filter(one -> one.pass().session().equals(session.getId()))
        .forEach(this::end);
  }

  @EventListener
  synchronized void committed(Engine.Committed committed) {
    if (!committed.changes().isEmpty()) {
      topics.addAll(List.of("today", "runs", "capacities", "holds", "arrivals", "watches"));
      committed.changes().forEach(change -> one("run", change.run()));
    }
    committed.instructions().forEach(instruction -> instruction.accept(told));
  }

  private final Instruction.Some told =
      new Instruction.Some() {
        @Override
        public Void visit(Instruction.OpenAlert alert) {
          return alerts();
        }

        @Override
        public Void visit(Instruction.CloseAlert alert) {
          return alerts();
        }

        private Void alerts() {
          topics.add("alerts");
          return null;
        }
      };

  private void one(String kind, long id) {
    String topic = kind + " " + id;
    if (!topics.contains(topic)) {
      topics.add(single < MOST_RUNS ? topic : kind);
      single++;
    }
  }

  /** Output of a run has come in. */
  public synchronized void outputGrew(long run) {
    one("output", run);
  }

  /** Hosts have come or gone. */
  public synchronized void hostsChanged() {
    topics.addAll(List.of("hosts", "today"));
  }

  /** Alerts were opened, answered or closed. */
  public synchronized void alertsChanged() {
    topics.addAll(List.of("alerts", "today"));
  }

  /** Definitions were published. */
  public synchronized void definitionsChanged() {
    topics.addAll(List.of("streams", "calendars", "watches", "capacities", "today"));
  }

  /** Whoever is locked out, or whose token has ended, hears no more. */
  @Scheduled(fixedDelay = 1_000)
  void endWhatNoLongerHolds() {
    if (!listeners.isEmpty()) {
      Set<Pass> holding = passes.holding(listeners.stream().map(Listener::pass).toList());
      listeners.stream().filter(one -> !holding.contains(one.pass())).forEach(this::end);
    }
  }

  @Scheduled(fixedDelay = 300)
  void tell() {
    Told told;
    List<Listener> hearing;
    synchronized (this) {
      boolean nothing = topics.isEmpty();
      if (nothing && ++quiet < 50) {
        return;
      }
      quiet = 0;
      told = nothing ? new Told(number, new Changes(List.of())) : take();
      hearing = List.copyOf(listeners);
    }
    String name = told.changes().topics().isEmpty() ? "alive" : "changes";
    hearing.stream().filter(one -> !send(one.emitter(), name, told)).forEach(listeners::remove);
  }

  /** What was told, and its number. */
  private record Told(long number, Changes changes) {}

  private boolean send(SseEmitter listener, String name, Told told) {
    try {
      listener.send(
          SseEmitter.event()
              .id(self + "-" + told.number())
              .name(name)
              .data(told.changes(), MediaType.APPLICATION_JSON));
      return true;
    } catch (IOException | IllegalStateException e) {
      return false;
    }
  }

  private Told take() {
    Told told = new Told(++number, new Changes(List.copyOf(topics)));
    topics.clear();
    single = 0;
    lately.addLast(told);
    if (lately.size() > MOST_REMEMBERED) {
      lately.removeFirst();
    }
    return told;
  }

  /** All that was told since an event; everything where that is too long ago, or another's. */
  private Told missed(String lastHeard) {
    if (lastHeard.isEmpty()) {
      return new Told(number, new Changes(List.of()));
    }
    String prefix = self + "-";
    boolean ours =
        lastHeard.startsWith(prefix) && lastHeard.substring(prefix.length()).matches("\\d{1,18}");
    long heard = ours ? Long.parseLong(lastHeard.substring(prefix.length())) : -1;
    long oldest = lately.isEmpty() ? number + 1 : lately.getFirst().number();
    if (!ours || heard > number || heard < oldest - 1) {
      return new Told(number, new Changes(EVERYTHING));
    }
    Set<String> all = new LinkedHashSet<>();
    lately.stream()
        .filter(one -> one.number() > heard)
        .forEach(one -> all.addAll(one.changes().topics()));
    return new Told(number, new Changes(List.copyOf(all)));
  }
}
