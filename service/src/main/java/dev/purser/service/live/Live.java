package dev.purser.service.live;

import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import org.springframework.context.event.EventListener;
import org.springframework.http.MediaType;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** Tells those who look on what has changed, a few times a second at the most. */
@Component
public class Live {
  private static final int MOST_RUNS = 500;

  private final List<SseEmitter> listeners = new CopyOnWriteArrayList<>();
  private final Map<Long, Turn.Change> runs = new LinkedHashMap<>();
  private final Set<Long> outputs = new LinkedHashSet<>();
  private boolean hosts;
  private boolean alerts;
  private boolean definitions;
  private int quiet;

  /**
   * What has changed.
   *
   * @param runs runs that have changed
   * @param more whether more runs have changed than are listed
   * @param outputs runs whose output has grown
   */
  public record Changes(
      List<Turn.Change> runs,
      boolean more,
      List<Long> outputs,
      boolean hosts,
      boolean alerts,
      boolean definitions) {}

  /** A new listener. */
  public SseEmitter listen() {
    SseEmitter emitter = new SseEmitter(0L);
    emitter.onCompletion(() -> listeners.remove(emitter));
    emitter.onTimeout(() -> listeners.remove(emitter));
    emitter.onError(e -> listeners.remove(emitter));
    listeners.add(emitter);
    return emitter;
  }

  @EventListener
  synchronized void committed(Engine.Committed committed) {
    committed.changes().forEach(change -> runs.put(change.run(), change));
    alerts |=
        committed.instructions().stream()
            .anyMatch(
                one ->
                    one instanceof dev.purser.core.board.Instruction.OpenAlert
                        || one instanceof dev.purser.core.board.Instruction.CloseAlert);
  }

  /** Output of a run has come in. */
  public synchronized void outputGrew(long run) {
    outputs.add(run);
  }

  /** Hosts have come or gone. */
  public synchronized void hostsChanged() {
    hosts = true;
  }

  /** Alerts were answered. */
  public synchronized void alertsChanged() {
    alerts = true;
  }

  /** Definitions were published. */
  public synchronized void definitionsChanged() {
    definitions = true;
  }

  @Scheduled(fixedDelay = 300)
  void tell() {
    Changes changes = take();
    boolean nothing =
        changes.runs().isEmpty()
            && changes.outputs().isEmpty()
            && !changes.hosts()
            && !changes.alerts()
            && !changes.definitions();
    if (nothing && ++quiet < 50) {
      return;
    }
    quiet = 0;
    listeners.removeIf(listener -> !send(listener, nothing ? "alive" : "changes", changes));
  }

  private static boolean send(SseEmitter listener, String name, Changes changes) {
    try {
      listener.send(SseEmitter.event().name(name).data(changes, MediaType.APPLICATION_JSON));
      return true;
    } catch (IOException | IllegalStateException e) {
      return false;
    }
  }

  private synchronized Changes take() {
    Changes changes =
        new Changes(
            runs.values().stream().limit(MOST_RUNS).toList(),
            runs.size() > MOST_RUNS,
            List.copyOf(outputs),
            hosts,
            alerts,
            definitions);
    runs.clear();
    outputs.clear();
    hosts = false;
    alerts = false;
    definitions = false;
    return changes;
  }
}
