package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import picocli.CommandLine;

/** The table of commands: each can be made, says what it is, and is found by its name. */
class CommandsTest {
  private static List<CommandLine> everything() {
    CommandLine line = new CommandLine(new Purser());
    assertThat(Commands.addWanted(line, List.of("--help"))).isEmpty();
    List<CommandLine> all = new ArrayList<>();
    List<CommandLine> open = new ArrayList<>(line.getSubcommands().values());
    while (!open.isEmpty()) {
      CommandLine one = open.remove(0);
      all.add(one);
      open.addAll(one.getSubcommands().values());
    }
    return all;
  }

  private static Stream<CommandLine> each() {
    return everything().stream();
  }

  @ParameterizedTest
  @MethodSource("each")
  void aCommandSaysWhatItDoesAndHasHelpOfItsOwn(CommandLine command) {
    var usage = command.getCommandSpec().usageMessage();
    assertThat(usage.description()).as(command.getCommandName()).isNotEmpty();
    assertThat(usage.description()[0]).matches("(?s)[A-Z].*[.)]");
    boolean printsItsOwnWay =
        List.of("schema", "log", "generate-completion", "login", "logout", "help", "feed", "import")
            .contains(command.getCommandName());
    assertThat(printsItsOwnWay || command.getCommandSpec().findOption("--output") != null)
        .as(command.getCommandSpec().qualifiedName() + " prints text, JSON and CSV")
        .isTrue();
    assertThat(command.getUsageMessage()).contains("-h, --help").doesNotContain("<main class>");
  }

  @Test
  void aWordMakesItsCommandAndNoOther() {
    for (CommandLine command : everything()) {
      if (command.getParent().getParent() == null) {
        CommandLine line = new CommandLine(new Purser());
        String name = command.getCommandName();
        assertThat(Commands.addWanted(line, List.of(name, "--help"))).isEmpty();
        int many = name.equals("generate-completion") ? everything().size() : 1;
        assertThat(line.getSubcommands()).containsKey(name).hasSizeLessThanOrEqualTo(many);
      }
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          stat        | did you mean "start"?
          colour      | purser --help lists them
          cancle      | did you mean "cancel"?
          """)
  void aWordThatIsNoCommandIsAnsweredWithTheNearest(String word, String hint) {
    for (String more : List.of("--help", "--what-if", "x")) {
      StringWriter out = new StringWriter();
      StringWriter err = new StringWriter();
      assertThat(Purser.run(new PrintWriter(out), new PrintWriter(err), word, more)).isEqualTo(2);
      assertThat(out.toString()).isEmpty();
      assertThat(err.toString()).contains("there is no command \"" + word + "\"").contains(hint);
    }
  }

  @Test
  void aFileThatIsNotThereOrIsNoTextIsSaidInPlainWords(@TempDir Path folder) throws IOException {
    Path noText =
        Files.write(folder.resolve("photo.yaml"), new byte[] {(byte) 0xff, (byte) 0xfe, 7});
    for (Map.Entry<List<String>, String> one :
        Map.of(
                List.of(
                    "login",
                    "--service",
                    "http://x",
                    "--name",
                    "ida",
                    "--password-file",
                    "/no/such"),
                "there is no file /no/such",
                List.of(
                    "login",
                    "--service",
                    "http://x",
                    "--name",
                    "i",
                    "--password-file",
                    noText.toString()),
                "not text in UTF-8")
            .entrySet()) {
      StringWriter err = new StringWriter();
      String[] words = one.getKey().toArray(String[]::new);
      int code = Purser.run(new PrintWriter(new StringWriter()), new PrintWriter(err), words);
      assertThat(code).isEqualTo(2);
      assertThat(err.toString()).contains(one.getValue()).doesNotContain("Exception");
    }
  }

  @Test
  void anActionAsksWhichRunsAreMeantBeforeItAsksAnybody() {
    for (String action : List.of("hold", "skip", "cancel", "rerun", "approve")) {
      StringWriter err = new StringWriter();
      int code = Purser.run(new PrintWriter(new StringWriter()), new PrintWriter(err), action);
      assertThat(code).as(action).isEqualTo(2);
      assertThat(err.toString()).contains("say which runs");
    }
  }

  /** The mistake first, then one line of usage and where more is. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "start                | missing required parameter: 'STREAM' | usage: purser start [OPTIONS] STREAM",
        "start a --dat 1      | unknown options: '--dat', '1'        | usage: purser start [OPTIONS] STREAM",
        "hosts drain          | missing required parameter: 'HOST'   | usage: purser hosts drain [OPTIONS] HOST",
        "plan --date tomorrow | is not a date; expected one such as  | usage: purser plan [OPTIONS]",
      })
  void aWrongUseIsSaidInAFewLines(String command, String mistake, String usage) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code = Purser.run(new PrintWriter(out), new PrintWriter(err), command.split(" "));
    assertThat(code).isEqualTo(2);
    assertThat(out.toString()).isEmpty();
    List<String> lines = err.toString().lines().toList();
    assertThat(lines).hasSizeBetween(3, 4);
    assertThat(lines.get(0)).contains(mistake);
    assertThat(lines).contains(usage);
    assertThat(lines.get(lines.size() - 1)).endsWith(" --help says more");
  }
}
