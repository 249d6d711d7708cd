package dev.purser.wire.api;

import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;

/** What people and programs are known by. */
public final class PeopleViews {
  private PeopleViews() {}

  /**
   * A person.
   *
   * @param locked whether nothing of theirs opens anything
   * @param mustChange whether they must replace their password at the next sign-in
   * @param tokens how many tokens act for them
   * @param mail where alerts reach them; empty for nowhere
   */
  public record PersonView(
      String name,
      String role,
      boolean locked,
      boolean mustChange,
      int tokens,
      Instant since,
      String mail) {}

  /**
   * A person to be added, or to get a new password or role.
   *
   * @param password empty or null to leave it as it is; another one must be replaced by its person
   *     at the next sign-in
   * @param mail where alerts reach them; null to leave it as it is, empty for nowhere
   */
  public record PersonRequest(
      @Size(max = Limits.NAME) String name,
      @Size(max = Limits.NAME) String role,
      @Size(max = Limits.PASSWORD) String password,
      @Size(max = 250) String mail) {}

  /**
   * What is to be done about a person.
   *
   * @param action {@code lock}, {@code unlock} or {@code sign-out}
   */
  public record PersonAction(
      @Size(max = Limits.NAME) String action, @Size(max = Limits.REASON) String reason) {}

  /**
   * A new token for programs, shown once.
   *
   * @param id the number that it is named by from now on
   * @param expires from when it opens nothing
   */
  public record TokenView(
      String token, String label, String name, String role, long id, Instant expires) {}

  /**
   * A token to be made.
   *
   * @param scope {@code api}, which it is without, or {@code feed}
   * @param days for how many days it opens anything; 365 without
   */
  public record TokenRequest(
      @Size(max = Limits.NAME) String label,
      @Size(max = Limits.NAME) String scope,
      @Min(1) @Max(3650) Integer days) {}

  /**
   * A token that was made before; its secret is known to nobody here.
   *
   * @param scope {@code api}, {@code feed}, or {@code any} for one that is older than scopes
   * @param expires null where it has no end
   * @param used the last date on which it was used, UTC; null for never
   * @param open whether it opens anything now
   */
  public record TokenLine(
      long id,
      String person,
      String label,
      String scope,
      Instant created,
      Instant expires,
      LocalDate used,
      boolean open) {}
}
