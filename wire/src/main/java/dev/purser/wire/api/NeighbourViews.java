package dev.purser.wire.api;

import jakarta.validation.constraints.NotBlank;
import jakarta.validation.constraints.NotEmpty;
import jakarta.validation.constraints.NotNull;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;

/** Other environments that this one is held against, and what comes from there. */
public final class NeighbourViews {
  private NeighbourViews() {}

  /**
   * What this service says of itself to others.
   *
   * @param environment its name; empty for none
   * @param revision of all definitions in force
   * @param console where people reach it; empty where that is not set
   * @param onItsWay what is to be in force here and is not yet, as far as who asks may see it
   */
  public record EnvironmentView(
      String environment, long revision, String console, List<OnItsWayView> onItsWay) {}

  /**
   * Something that is to be in force and is not yet.
   *
   * @param what {@code draft 12} or {@code commit 1a2b3c4d5e}
   * @param title what its writer says of it
   * @param who writes it
   * @param liveFrom the business date from which it goes live by itself; null where it does not
   * @param definitions what is in it, as {@code stream fuel/stock-count}; empty where that is not
   *     known before it is looked at
   */
  public record OnItsWayView(
      String what, String title, String who, LocalDate liveFrom, List<String> definitions) {}

  /**
   * Another environment.
   *
   * @param connection by which its API is reached
   * @param map what is called otherwise here: YAML; empty for nothing
   */
  public record NeighbourView(String name, String connection, String map) {}

  /** How another environment is reached, and what is called otherwise here. */
  public record NeighbourRequest(
      @NotBlank @Size(max = Limits.NAME) String connection,
      @NotNull @Size(max = 1_000_000) String map) {}

  /**
   * This environment and another, held against each other.
   *
   * @param here what this service says of itself
   * @param there what the other says of itself
   * @param looked when it was asked
   * @param alike how many definitions are the same on both sides
   * @param differences how many are not, by their standing
   */
  public record ComparisonView(
      String name,
      EnvironmentView here,
      EnvironmentView there,
      Instant looked,
      int alike,
      Map<String, Integer> differences) {}

  /**
   * A definition that is not the same on both sides.
   *
   * @param department of a stream; empty for none
   * @param standing {@code only here}, {@code only there}, {@code newer here}, {@code newer there},
   *     {@code changed on both sides} or {@code differs}
   * @param revisionHere 0 where it is not here
   * @param atHere null where it is not here
   * @param revisionThere 0 where it is not there
   * @param atThere null where it is not there
   * @param fields what bringing it here would change, the first of them; empty where one side has
   *     none
   * @param fieldsInAll how many there are
   * @param onItsWay what it is in that is not in force yet, on either side
   */
  public record DifferenceView(
      String kind,
      String name,
      String department,
      String standing,
      long revisionHere,
      Instant atHere,
      String whoHere,
      long revisionThere,
      Instant atThere,
      String whoThere,
      List<ScheduleViews.FieldChange> fields,
      int fieldsInAll,
      List<String> onItsWay) {}

  /**
   * What is to be packed there, to be brought here.
   *
   * @param definitions as {@code stream fuel/stock-count}
   * @param withNeeds whether what they use goes too, but for what each environment has of its own
   */
  public record FetchRequest(
      @NotEmpty @Size(max = Limits.FILES)
          List<@NotBlank @Size(max = Limits.NAME) String> definitions,
      boolean withNeeds) {}
}
