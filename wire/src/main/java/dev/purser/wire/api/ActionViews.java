package dev.purser.wire.api;

import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/** What people do, what it would do, and what it has done. */
public final class ActionViews {
  private ActionViews() {}

  /**
   * Something that a person wants done: exactly one of an action on runs, a start, a scope to be
   * held or released, a capacity to be changed, and a host to be drained or returned.
   *
   * @param action on the runs; or {@code hold} or {@code release} with a scope
   * @param runs ids
   * @param priority with action {@code priority}, 0 to 100
   * @param startAt with action {@code start-at}
   * @param host a host's name, with action {@code drain} or {@code return}; only to ask what it
   *     would do
   */
  public record ChangeRequest(
      @Size(max = Limits.NAME) String action,
      @Size(max = Limits.RUNS) List<Long> runs,
      @Min(0) @Max(100) Integer priority,
      Instant startAt,
      @Size(max = Limits.REASON) String reason,
      @Valid Views.StartRequest start,
      @Valid Scope scope,
      @Valid Units capacity,
      @Size(max = Limits.NAME) String host) {}

  /**
   * What is held until it is released.
   *
   * @param kind {@code job}, {@code stream} or {@code department}
   */
  public record Scope(@Size(max = Limits.NAME) String kind, @Size(max = Limits.NAME) String name) {}

  /**
   * How many units a capacity is to have.
   *
   * @param units null for as many as are defined
   */
  public record Units(
      @Size(max = Limits.NAME) String name, @Min(0) @Max(1_000_000) Integer units) {}

  /**
   * What became of one run.
   *
   * @param refusal why nothing was done to it; empty where it was done
   */
  public record ActionResult(long run, String reference, boolean done, String refusal) {}

  /** A run that an action changes at once. */
  public record TouchedView(
      String reference, String before, String after, boolean stops, boolean starts) {}

  /**
   * A run that goes otherwise in consequence.
   *
   * @param turn {@code freed}, {@code blocked}, {@code otherwise}, {@code earlier} or {@code later}
   */
  public record MovedView(
      String reference,
      String turn,
      String stateBefore,
      String stateAfter,
      Instant endBefore,
      Instant endAfter) {}

  /** When a business date is expected to be done, without and with the action. */
  public record FinishView(
      LocalDate date, Instant before, Instant after, int openBefore, int openAfter) {}

  /** What an action would do; the sentences say the same as the rest. */
  public record EffectView(
      List<String> sentences,
      List<String> refusals,
      List<TouchedView> touched,
      List<MovedView> moved,
      List<FinishView> finishes,
      List<String> missed,
      List<String> saved) {}

  /** A job, stream or department that is held. */
  public record HoldView(String kind, String name, String note, String who, Instant since) {}

  /** A run that holds units of a capacity, or stands in line for them. */
  public record UnitsView(
      long run, String reference, String title, int units, int priority, Instant since) {}

  /**
   * A capacity.
   *
   * @param units how many there are now
   * @param defined how many there would be now by its definition
   * @param set how many a person has said; null for as defined
   * @param spans the times of day at which there are more or fewer, in words
   */
  public record CapacityView(
      String name,
      String title,
      int units,
      int defined,
      Integer set,
      String setBy,
      Instant setSince,
      String setReason,
      int taken,
      List<UnitsView> holders,
      List<UnitsView> line,
      List<String> spans) {}

  /** A value for a placeholder, and the level that it comes from. */
  public record ParameterView(String name, String value, String origin) {}

  /** What a run handed back under a name. */
  public record ValueView(
      String name, String value, long run, String reference, LocalDate date, Instant at) {}

  /** A filter of the runs page that a person keeps under a name. */
  public record KeptFilter(String name, String filter) {}

  /**
   * A job in the picture of a stream.
   *
   * @param id the job's full path, or {@code file NAME}
   * @param kind {@code command}, {@code approval}, {@code stream}, {@code file} or {@code other}: a
   *     job of another stream
   * @param waitsFor what a job waits for, as it is written; empty for nothing
   * @param run its run on the date; null where there is none
   * @param place where it stands, as its stream says; null where that says nothing
   */
  public record NodeView(
      String id,
      String label,
      String title,
      String kind,
      String waitsFor,
      RunView run,
      PlaceView place) {}

  /** Upper left corner of a job in a picture, in units of which a job is 196 wide and 54 high. */
  public record PlaceView(int x, int y) {}

  /**
   * What one job asks of another.
   *
   * @param alternative whether another one would do instead
   */
  public record EdgeView(String from, String to, String label, boolean alternative) {}

  /**
   * A stream as a picture.
   *
   * @param number which of the date's starts; 0 where it has none on the date
   * @param numbers all starts that the date has
   * @param above the stream that it is a step of; empty for none
   */
  public record GraphView(
      String stream,
      String title,
      LocalDate date,
      int number,
      List<Integer> numbers,
      String state,
      boolean stalled,
      String succeedsIf,
      String above,
      List<NodeView> nodes,
      List<EdgeView> edges) {}

  /** Something that a few letters find. */
  public record FoundView(String kind, String name, String title, String state, long run) {}

  /** What a start by hand may give a value to, and what it has otherwise. */
  public record StartParameters(List<String> asksFor, List<ParameterView> values) {}
}
