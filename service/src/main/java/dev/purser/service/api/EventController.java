package dev.purser.service.api;

import dev.purser.core.definition.Way;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.Settings;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.event.Event;
import dev.purser.service.people.Role;
import dev.purser.service.subscription.Events;
import dev.purser.service.subscription.SubscriptionPlaceRow;
import dev.purser.service.subscription.SubscriptionRow;
import dev.purser.service.subscription.Subscriptions;
import dev.purser.wire.api.EventViews;
import dev.purser.wire.api.Limits;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.http.MediaType;
import org.springframework.security.access.AccessDeniedException;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What has happened, by topic, and which programs are told of it at an address of theirs. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class EventController {
  private static final int MOST = 500;

  private final Events events;
  private final Subscriptions subscriptions;
  private final AuditTrail audit;
  private final Settings settings;

  EventController(Events events, Subscriptions subscriptions, AuditTrail audit, Settings settings) {
    this.events = events;
    this.subscriptions = subscriptions;
    this.audit = audit;
    this.settings = settings;
  }

  /**
   * Events of a topic after a number, the oldest first. The answer's cursor is where to go on, also
   * where none of them was wanted.
   *
   * @param topic {@code alerts}, {@code commitments}, {@code files} or {@code runs}
   * @param after the cursor of the answer before; below 0 for from now on
   * @param kind of an alert, or the state of a run or file
   */
  @GetMapping("/events")
  EventViews.EventsView events(
      @RequestParam @Size(max = Limits.NAME) String topic,
      @RequestParam(defaultValue = "-1") long after,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String department,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String stream,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String kind,
      @RequestParam(defaultValue = "200") @Min(1) @Max(MOST) int limit) {
    if (after < 0) {
      return new EventViews.EventsView(events.settled(topic), List.of());
    }
    List<Event> found = events.after(topic, after, limit);
    Events.Wanted wanted = new Events.Wanted(department, stream, kind);
    long cursor = found.isEmpty() ? after : found.get(found.size() - 1).number();
    return new EventViews.EventsView(
        cursor,
        found.stream().filter(one -> events.isWanted(one, wanted)).map(this::view).toList());
  }

  private EventViews.EventView view(Event event) {
    return new EventViews.EventView(
        event.number(),
        event.at(),
        event.topic(),
        event.type(),
        event.subject(),
        event.stream(),
        event.kind(),
        event.data(),
        settings.zone().getId());
  }

  /** All subscriptions; those that are on first. */
  @GetMapping("/subscriptions")
  @Paged(by = "id")
  List<EventViews.SubscriptionView> list() {
    return subscriptions.all().stream().map(this::view).toList();
  }

  /** Begins one, of all that happens from now on; it ends with the rights of whoever asks. */
  @PostMapping("/subscriptions")
  EventViews.SubscriptionView add(
      @Valid @RequestBody EventViews.SubscriptionRequest request,
      Authentication who,
      HttpServletRequest http) {
    if (request.address() == null || request.topics() == null) {
      throw new NotUnderstood("name the topics, and the address that is told of them");
    }
    Map<String, String> options = new LinkedHashMap<>();
    options.put("mode", text(request.mode()));
    options.put("signed-by", text(request.signedBy()));
    options.put("asks-first", Boolean.TRUE.equals(request.asksFirst()) ? "yes" : "");
    options.values().removeIf(String::isEmpty);
    Subscriptions.Whole whole =
        subscriptions.add(
            who.getName(),
            request.topics(),
            new Events.Wanted(
                text(request.department()), text(request.stream()), text(request.kind())),
            new Way("webhook", request.address().strip(), options));
    audit.write(
        Asking.actor(who, http),
        "subscribe",
        "subscription " + whole.row().id,
        whole.row().topics + " to " + whole.row().address);
    return view(whole);
  }

  private static String text(String given) {
    return given == null ? "" : given.strip();
  }

  /** Ends one; other people's only an administrator. */
  @DeleteMapping("/subscriptions/{id}")
  EventViews.SubscriptionView end(
      @PathVariable long id, Authentication who, HttpServletRequest http) {
    SubscriptionRow row =
        subscriptions
            .byId(id)
            .orElseThrow(() -> new Problems.NotFound("there is no subscription " + id));
    boolean administrator =
        who.getAuthorities().stream()
            .anyMatch(
                one -> Role.of(one.getAuthority()).filter(Role.ADMINISTRATOR::equals).isPresent());
    if (!row.owner.equals(who.getName()) && !administrator) {
      throw new AccessDeniedException(
          "subscription " + id + " is " + row.owner + "'s; only an administrator may end it");
    }
    if (!subscriptions.end(id, "ended by " + who.getName())) {
      throw new NotUnderstood("subscription " + id + " is over: " + row.note);
    }
    audit.write(Asking.actor(who, http), "unsubscribe", "subscription " + id, "");
    return subscriptions.all().stream()
        .filter(one -> one.row().id == id)
        .findFirst()
        .map(this::view)
        .orElseThrow(() -> new Problems.NotFound("there is no subscription " + id));
  }

  private EventViews.SubscriptionView view(Subscriptions.Whole whole) {
    SubscriptionRow row = whole.row();
    return new EventViews.SubscriptionView(
        row.id,
        row.owner,
        row.allTopics(),
        row.department,
        row.stream,
        row.kind,
        row.address,
        row.made,
        row.state,
        row.note,
        whole.places().stream().map(this::place).toList(),
        settings.zone().getId());
  }

  private EventViews.PlaceView place(SubscriptionPlaceRow place) {
    return new EventViews.PlaceView(
        place.topic,
        place.number,
        Math.max(0, events.settled(place.topic) - place.number),
        place.tries,
        place.tries == 0 ? null : place.nextTry,
        place.lastError,
        place.delivered);
  }
}
