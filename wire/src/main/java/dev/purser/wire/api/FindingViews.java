package dev.purser.wire.api;

import jakarta.validation.constraints.NotBlank;
import jakarta.validation.constraints.Size;

/** Finding one's way among definitions. */
public final class FindingViews {
  private FindingViews() {}

  /**
   * One use of a definition.
   *
   * @param where who in it does: a job by its full path, or the definition itself
   */
  public record UseView(String kind, String name, String where) {}

  /**
   * A line of a definition in which a text was found.
   *
   * @param line from 1, in the definition's own text
   */
  public record FoundLine(String kind, String name, int line, String text) {}

  /**
   * A definition that may want a look.
   *
   * @param why {@code unused} or {@code broken}
   * @param says more about it, in a sentence
   */
  public record LeftOverView(String kind, String name, String why, String says) {}

  /**
   * What is to be copied.
   *
   * @param job a job of the stream that is copied within it; empty for the definition itself
   * @param to the name of the copy
   */
  public record CopyRequest(
      @NotBlank @Size(max = Limits.NAME) String kind,
      @NotBlank @Size(max = Limits.NAME) String name,
      @Size(max = Limits.NAME) String job,
      @NotBlank @Size(max = Limits.NAME) String to) {}
}
