package dev.purser.wire.api;

import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.NotNull;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.util.List;

/** What definitions were, and how they came to be. */
public final class VersionViews {
  private VersionViews() {}

  /**
   * One version of a definition.
   *
   * @param revision of the publication that made it
   * @param action {@code added}, {@code changed}, {@code withdrawn} or {@code brought back}
   * @param origin where it comes from, other than from a person's own hand; empty for that
   * @param madeBy the for-each whose row made it; empty where somebody wrote it
   * @param fields how many fields it changed
   * @param runs runs that used it, of a stream
   * @param inForce whether it is in force now
   */
  public record VersionView(
      String kind,
      String name,
      long revision,
      Instant at,
      String who,
      String reason,
      String action,
      String origin,
      String madeBy,
      int fields,
      long runs,
      boolean inForce) {}

  /**
   * One version, whole, beside another.
   *
   * @param text its YAML; empty where it was withdrawn
   * @param against the revision that it is held against; 0 for none
   * @param before the YAML of that; empty where there was none
   * @param changes what differs, by field
   */
  public record VersionTextView(
      VersionView version,
      String text,
      long against,
      String before,
      List<ScheduleViews.FieldChange> changes) {}

  /**
   * One act of publishing.
   *
   * @param definitions what it changed: {@code stream fuel/stock-count}
   * @param more how many more it changed
   */
  public record PublicationView(
      long revision,
      Instant at,
      String who,
      String reason,
      String origin,
      List<String> definitions,
      int more) {}

  /**
   * What is to be as it was: a definition, or all that a publication changed.
   *
   * @param kind and {@code name} of a definition; empty for a publication
   * @param revision at which it was as it is to be; of a publication its own, which is undone
   * @param anyway undo a publication though something of it has changed since: that stays
   * @param days how far a preview looks ahead; 400 where nothing is said
   * @param holds from when; null for what is planned
   */
  public record RevertRequest(
      @Size(max = Limits.NAME) String kind,
      @Size(max = Limits.NAME) String name,
      @NotNull @Min(0) Long revision,
      boolean anyway,
      @Min(1) @Max(1_500) Integer days,
      @Size(max = Limits.REASON) String reason,
      @Valid Views.HoldsRequest holds) {}

  /**
   * Another name for a definition.
   *
   * @param to fit for its kind, and not taken
   */
  public record RenameRequest(
      @NotNull @Size(max = Limits.NAME) String kind,
      @NotNull @Size(max = Limits.NAME) String name,
      @NotNull @Size(min = 1, max = Limits.NAME) String to,
      @Size(max = Limits.REASON) String reason) {}

  /**
   * What came of renaming, or would.
   *
   * @param revision 0 where nothing was renamed
   * @param changed kind and name of the definitions whose texts change
   * @param runs how many runs of today and tomorrow go by the new name
   */
  public record RenameView(
      long revision, List<String> changed, int runs, List<Views.ProblemView> problems) {}

  /** The definition by which a run was planned. */
  public record DefinitionOfRunView(String name, long revision, String text, boolean inForce) {}
}
