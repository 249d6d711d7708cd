package dev.purser.service.api;

import dev.purser.service.Settings;
import dev.purser.service.alert.AlertEvents;
import dev.purser.service.board.Engine;
import dev.purser.service.people.Pass;
import dev.purser.service.people.Passes;
import dev.purser.wire.api.AlertViews;
import dev.purser.wire.api.Limits;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.io.IOException;
import java.util.List;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.http.MediaType;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** What becomes of alerts, for programs: asked for from a number on, or told as it happens. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class AlertFeedController {
  private static final int MOST = 500;
  private static final int MOST_OF_A_PERSON = 8;
  private static final int QUIET_ROUNDS = 15;

  private final AlertEvents events;
  private final Engine engine;
  private final Settings settings;
  private final Passes passes;
  private final List<Follower> followers = new CopyOnWriteArrayList<>();

  AlertFeedController(AlertEvents events, Engine engine, Settings settings, Passes passes) {
    this.events = events;
    this.engine = engine;
    this.settings = settings;
    this.passes = passes;
  }

  /** Which steps are wanted; nothing said of something is any. */
  private record Wanted(String department, String stream, String kind) {}

  private static final class Follower {
    private final Pass pass;
    private final SseEmitter emitter;
    private final Wanted wanted;
    private long after;
    private int quiet;

    Follower(Pass pass, SseEmitter emitter, Wanted wanted, long after) {
      this.pass = pass;
      this.emitter = emitter;
      this.wanted = wanted;
      this.after = after;
    }
  }

  /**
   * Steps after a number, the oldest first. The answer's cursor is where to go on, also where none
   * of them was wanted.
   *
   * @param after the cursor of the answer before; below 0 for from now on
   */
  @GetMapping("/alert-steps")
  AlertViews.StepsView steps(
      @RequestParam(defaultValue = "-1") long after,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String department,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String stream,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String kind,
      @RequestParam(defaultValue = "200") @Min(1) @Max(MOST) int limit) {
    if (after < 0) {
      return new AlertViews.StepsView(events.settled(), List.of());
    }
    List<AlertEvents.Event> found = events.after(after, limit);
    Wanted wanted = new Wanted(department, stream, kind);
    long cursor = found.isEmpty() ? after : found.get(found.size() - 1).step().id;
    return new AlertViews.StepsView(
        cursor, found.stream().filter(one -> isWanted(one, wanted)).map(this::view).toList());
  }

  /**
   * The same as it happens, as Server-Sent Events; each has its number as its id, so that a
   * browser, or whoever sends {@code Last-Event-ID}, goes on where it was.
   */
  @GetMapping(path = "/alert-steps/feed", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter feed(
      @RequestParam(defaultValue = "-1") long after,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String department,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String stream,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String kind,
      @RequestHeader(name = "Last-Event-ID", defaultValue = "") String lastHeard,
      Authentication who,
      HttpServletRequest http) {
    long from = lastHeard.matches("\\d{1,18}") ? Long.parseLong(lastHeard) : after;
    SseEmitter emitter = new SseEmitter(0L);
    Follower follower =
        new Follower(
            Pass.of(who, http),
            emitter,
            new Wanted(department, stream, kind),
            from < 0 ? events.settled() : from);
    emitter.onCompletion(() -> followers.remove(follower));
    emitter.onTimeout(() -> followers.remove(follower));
    emitter.onError(e -> followers.remove(follower));
    followers.add(follower);
    List<Follower> theirs =
        followers.stream().filter(one -> one.pass.person().equals(follower.pass.person())).toList();
    theirs.stream().limit(Math.max(0, theirs.size() - MOST_OF_A_PERSON)).forEach(this::end);
    alive(follower);
    return emitter;
  }

  private void end(Follower follower) {
    followers.remove(follower);
    follower.emitter.complete();
  }

  /** A service that stops lets its followers go: it would wait for each of them else. */
  @EventListener(ContextClosedEvent.class)
  void stopping() {
    followers.forEach(this::end);
  }

  /** Tells followers what is new, and ends those whose rights have ended. */
  @Scheduled(fixedDelay = 1_000)
  void tell() {
    if (followers.isEmpty()) {
      return;
    }
    Set<Pass> holding = passes.holding(followers.stream().map(one -> one.pass).toList());
    for (Follower follower : followers) {
      if (holding.contains(follower.pass)) {
        tell(follower);
      } else {
        end(follower);
      }
    }
  }

  private void tell(Follower follower) {
    for (AlertEvents.Event event : events.after(follower.after, MOST)) {
      follower.after = event.step().id;
      if (isWanted(event, follower.wanted)) {
        follower.quiet = 0;
        try {
          follower.emitter.send(
              SseEmitter.event()
                  .id("" + event.step().id)
                  .name("alert")
                  .data(view(event), MediaType.APPLICATION_JSON));
        } catch (IOException | IllegalStateException e) {
          followers.remove(follower);
          return;
        }
      }
    }
    if (++follower.quiet >= QUIET_ROUNDS) {
      follower.quiet = 0;
      alive(follower);
    }
  }

  private void alive(Follower follower) {
    try {
      follower.emitter.send(SseEmitter.event().comment("alive"));
    } catch (IOException | IllegalStateException e) {
      followers.remove(follower);
    }
  }

  private boolean isWanted(AlertEvents.Event event, Wanted wanted) {
    String stream = event.alert().stream;
    boolean inStream =
        wanted.stream().isEmpty()
            || stream.equals(wanted.stream())
            || stream.startsWith(wanted.stream() + "/");
    boolean inDepartment =
        wanted.department().isEmpty()
            || engine.definitions().departmentOf(stream).equals(wanted.department());
    boolean ofKind = wanted.kind().isEmpty() || event.step().kind.equals(wanted.kind());
    return inStream && inDepartment && ofKind;
  }

  private AlertViews.StepEventView view(AlertEvents.Event event) {
    return new AlertViews.StepEventView(
        event.step().id,
        event.step().at,
        event.step().what,
        event.step().kind,
        event.step().who,
        event.step().text,
        event.alert().id,
        event.alert().urgency,
        event.alert().title,
        event.alert().reference,
        event.alert().stream,
        event.alert().run,
        settings.consoleAddress() + event.alert().page(),
        settings.zone().getId());
  }
}
