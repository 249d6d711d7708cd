package dev.purser.wire.api;

import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/** Definitions that are not live yet. */
public final class DraftViews {
  private DraftViews() {}

  /**
   * A draft.
   *
   * @param owner who began it
   * @param holder who writes it now: nobody else may save it
   * @param version counts its savings, from 1
   * @param seen the revision of all definitions that its writer has looked at
   * @param asked when others were asked to agree to it; null where they were not
   * @param agreed when somebody else agreed to it as it is; null where nobody has
   * @param shared whom it is shared with: people, {@code everybody}, or roles such as authors
   * @param trials how often it was tried
   * @param liveFrom the business date from which it goes live by itself; null where it does not
   * @param liveBy who said so
   * @param liveTrouble what is in the way of that; empty for nothing
   * @param files what is in it; empty in lists
   */
  public record DraftView(
      long id,
      String title,
      String owner,
      String holder,
      Instant created,
      Instant changed,
      String changedBy,
      long version,
      long seen,
      Instant asked,
      String askedBy,
      String askReason,
      Instant agreed,
      String agreedBy,
      List<String> shared,
      int trials,
      LocalDate liveFrom,
      String liveBy,
      String liveTrouble,
      List<Views.FileText> files) {}

  /**
   * A draft to be kept.
   *
   * @param version that was changed, of one that is there; 0 for a new one
   * @param looked whether its writer has looked at all that is in force now
   */
  public record DraftRequest(
      @NotNull @Size(max = 300) String title,
      @NotNull @Size(max = Limits.FILES) @Valid List<Views.FileText> files,
      long version,
      boolean looked) {}

  /**
   * What becomes of a draft.
   *
   * @param action {@code take over}, {@code copy}, {@code share}, {@code ask}, {@code agree} or
   *     {@code stay} (not go live by itself)
   * @param with whom it is shared with, for share
   * @param version that was looked at, for agree
   */
  public record DraftAction(
      @NotNull @Size(max = Limits.NAME) String action,
      @Size(max = 1_000) List<@NotNull @Size(max = Limits.NAME) String> with,
      long version,
      @Size(max = Limits.REASON) String reason) {}

  /**
   * How a draft is tried.
   *
   * @param stream which; may be empty where there is one only
   * @param host where all its jobs run that run on hosts; empty for where they say
   * @param ignoring whether what it asks of other streams and of files does not count
   * @param playing whether a question in the try stands for each of those instead; false where
   *     nothing is said
   */
  public record TrialRequest(
      @Size(max = Limits.NAME) String stream,
      @Size(max = Limits.NAME) String host,
      boolean ignoring,
      Boolean playing,
      @Size(max = Limits.REASON) String reason) {}

  /**
   * A try.
   *
   * @param stream the path that its runs have; empty where it was not started
   * @param runs their ids
   * @param problems why it was not started
   */
  public record DraftTrialView(String stream, List<Long> runs, List<Views.ProblemView> problems) {}

  /**
   * Why a draft is published.
   *
   * @param holds from when; null for what is planned
   */
  public record PublicationRequest(
      @Size(max = Limits.REASON) String reason, @Valid Views.HoldsRequest holds) {}

  /**
   * Whose streams can only be changed once somebody else has agreed.
   *
   * @param departments their names, or {@code all} for all definitions; empty for none
   */
  public record AgreementView(
      @NotNull @Size(max = 1_000) List<@NotNull @Size(max = Limits.NAME) String> departments) {}
}
