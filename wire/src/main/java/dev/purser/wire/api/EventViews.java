package dev.purser.wire.api;

import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** What has happened, and which programs are told of it. */
public final class EventViews {
  private EventViews() {}

  /**
   * Something that has happened.
   *
   * @param number its place among those of its topic
   * @param type what has happened, such as {@code run.succeeded}
   * @param subject what it has happened to
   * @param zone the clock that people read its times by
   */
  public record EventView(
      long number,
      Instant at,
      String topic,
      String type,
      String subject,
      String stream,
      String kind,
      Map<String, Object> data,
      String zone) {}

  /**
   * Events in order.
   *
   * @param cursor where to go on, also where none of them was wanted
   */
  public record EventsView(long cursor, List<EventView> events) {}

  /**
   * A program that is told of what happens.
   *
   * @param state {@code on} or {@code over}
   * @param note why it is over
   * @param places how far it has come with each topic
   */
  public record SubscriptionView(
      long id,
      String owner,
      List<String> topics,
      String department,
      String stream,
      String kind,
      String address,
      Instant made,
      String state,
      String note,
      List<PlaceView> places,
      String zone) {}

  /**
   * How far a subscription has come with a topic.
   *
   * @param number the last that has arrived, or was not wanted
   * @param behind how many numbers have come after it
   * @param tries in vain, since something has arrived
   * @param delivered when something has arrived last; null for never
   */
  public record PlaceView(
      String topic,
      long number,
      long behind,
      int tries,
      Instant nextTry,
      String lastError,
      Instant delivered) {}

  /**
   * A subscription that is wished for.
   *
   * @param mode {@code structured} or {@code binary}; structured where nothing is said
   * @param signedBy name of the secret that each event is signed with; none where nothing is said
   * @param asksFirst whether the receiver must consent first
   */
  public record SubscriptionRequest(
      @Size(max = 10) List<@Size(max = Limits.NAME) String> topics,
      @Size(max = Limits.NAME) String department,
      @Size(max = Limits.NAME) String stream,
      @Size(max = Limits.NAME) String kind,
      @Size(max = Limits.REASON) String address,
      @Size(max = Limits.NAME) String mode,
      @Size(max = Limits.NAME) String signedBy,
      Boolean asksFirst) {}
}
