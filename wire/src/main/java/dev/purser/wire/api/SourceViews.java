package dev.purser.wire.api;

import jakarta.validation.constraints.NotNull;
import jakarta.validation.constraints.Size;
import java.time.Instant;

/** The repository that definitions come from. */
public final class SourceViews {
  private SourceViews() {}

  /**
   * The repository, and how it stands.
   *
   * @param address empty where none is named
   * @param directory below which its definitions are; empty for all of it
   * @param byItself whether sound commits are published without a person's yes
   * @param looked when it was looked at; null where it never was
   * @param problem why what it has now is not published; empty where nothing is wrong
   * @param head the commit that it had then; empty for none
   * @param published the commit that was published last; empty for none
   */
  public record SourceView(
      String address,
      String branch,
      String directory,
      String account,
      boolean byItself,
      Instant looked,
      String problem,
      String head,
      String headAuthor,
      String headMessage,
      String published) {}

  /** Names a repository. */
  public record SourceRequest(
      @NotNull @Size(max = 1_000) String address,
      @NotNull @Size(max = 200) String branch,
      @NotNull @Size(max = 500) String directory,
      @NotNull @Size(max = 100) String account,
      boolean byItself) {}

  /**
   * Publishes a commit.
   *
   * @param commit that was looked at, or its first ten characters
   */
  public record SourcePublication(
      @NotNull @Size(max = 64) String commit, @Size(max = Limits.REASON) String reason) {}

  /** Something live that is not as the repository has it. */
  public record DriftView(String kind, String name, String how) {}

  /** Writes what drifts back. */
  public record WriteBack(
      @NotNull @Size(max = 200) String branch, @Size(max = Limits.REASON) String reason) {}

  /** What was written back. */
  public record WrittenBack(String branch, String commit) {}
}
