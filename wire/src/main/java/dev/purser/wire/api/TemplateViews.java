package dev.purser.wire.api;

import jakarta.validation.constraints.NotBlank;
import jakarta.validation.constraints.NotEmpty;
import jakarta.validation.constraints.Size;
import java.util.List;
import java.util.Map;

/** Templates, and what they make. */
public final class TemplateViews {
  private TemplateViews() {}

  /**
   * A parameter of a template.
   *
   * @param standard its value where none is given; null where one must be
   * @param allowed the only values that it takes; empty for any of its type
   */
  public record TemplateParameterView(
      String name, String type, String standard, List<String> allowed, String help) {}

  /**
   * A stream that comes from templates, in whole or in part.
   *
   * @param template of the whole of it; empty where only jobs of it come from templates
   * @param by the for-each whose row made it; empty where it is written by itself
   * @param row of that table, from 1; 0 for none
   * @param values what its template was filled with
   * @param deviations keys that are other than in their template
   */
  public record MadeView(
      String stream,
      String template,
      List<String> templates,
      String by,
      int row,
      Map<String, String> values,
      List<String> deviations) {}

  /**
   * A stream of some files, with all that templates put into it.
   *
   * @param template of the whole of it; empty where only jobs of it come from templates
   * @param text its whole YAML
   * @param deviations keys that are other than in their template, such as {@code jobs.load.host}
   */
  public record FilledView(String stream, String template, String text, List<String> deviations) {}

  /**
   * A template.
   *
   * @param makes {@code stream} or {@code job}
   * @param made the streams that hang on it
   */
  public record TemplateView(
      String name,
      String title,
      String about,
      String makes,
      List<TemplateParameterView> parameters,
      List<MadeView> made) {}

  /** Streams that are alike, of which a template is to be made. */
  public record MakeTemplateRequest(
      @NotBlank @Size(max = Limits.NAME) String name,
      @NotEmpty @Size(max = 2_000) List<@Size(max = Limits.NAME) String> streams) {}

  /** Definitions as a text, to be looked at, changed and published. */
  public record DefinitionText(String text) {}

  /**
   * Deviations of a stream that are to be as in its template again.
   *
   * @param keys paths of keys; all where none is given
   */
  public record TakeBackRequest(
      @NotBlank @Size(max = Limits.NAME) String stream,
      @Size(max = 1_000) List<@Size(max = Limits.NAME) String> keys,
      @Size(max = Limits.REASON) String reason) {}
}
