package dev.purser.service.api.view;

import dev.purser.service.definition.DefinitionRow;

/** The texts of versions. */
public final class VersionTexts {
  private VersionTexts() {}

  /** What was in force; empty for nothing. */
  public static String of(DefinitionRow row) {
    return row == null || row.withdrawn ? "" : row.text;
  }
}
