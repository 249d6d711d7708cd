package dev.purser.client;

import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.json.JsonMapper;

/**
 * Puts the statements of files in the place of {@code sql-file: NAME}, as one quoted line: so every
 * other line stays where it is, and the service gets a definition that is whole.
 */
final class StatementFiles {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final long MOST_BYTES = 1_000_000;
  private static final Pattern KEY =
      Pattern.compile(
          "(?m)^([^#\\n]*?(?:^|[\\s{,]))sql-file:[ \\t]+([\"']?)([^\\s,}#\"']+)\\2(?=[ \\t]*(?:$|[,}#]))");

  private StatementFiles() {}

  /**
   * The text of a definition file with its statements.
   *
   * @param file beside which the others are
   */
  static String inPlace(Path file, String text) throws IOException {
    if (!text.contains("sql-file:")) {
      return text;
    }
    Matcher matcher = KEY.matcher(text);
    StringBuilder out = new StringBuilder();
    while (matcher.find()) {
      int line = (int) text.substring(0, matcher.start(3)).lines().count();
      String statements = read(file, matcher.group(3), line);
      matcher.appendReplacement(
          out,
          Matcher.quoteReplacement(
              matcher.group(1) + "sql: " + JSON.writeValueAsString(statements)));
    }
    return matcher.appendTail(out).toString();
  }

  private static String read(Path file, String name, int line) throws IOException {
    Path statements = file.resolveSibling(name);
    String where = file + ", line " + line + ": ";
    try {
      if (Files.size(statements) > MOST_BYTES) {
        throw new Service.Refusal(
            1, where + statements + " has more than " + MOST_BYTES + " bytes");
      }
      return Files.readString(statements);
    } catch (NoSuchFileException e) {
      throw new Service.Refusal(1, where + "there is no file " + statements);
    } catch (MalformedInputException e) {
      throw new Service.Refusal(1, where + statements + " is not UTF-8 text");
    }
  }
}
