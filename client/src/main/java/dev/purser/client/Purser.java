package dev.purser.client;

import dev.purser.wire.trust.Trust;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.AccessDeniedException;
import java.nio.file.NoSuchFileException;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import picocli.CommandLine;

/** The client's program. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "purser",
    mixinStandardHelpOptions = true,
    version = "Purser 0.1.0",
    description = "Keeps batch work on time, and says why when it is not.",
    synopsisSubcommandLabel = "[--at LOGIN] COMMAND",
    footer = {
      "",
      "Exit codes: 0 done, 1 the answer is no, 2 wrong use, 3 the service cannot be reached.",
      "Shell completion: source <(purser generate-completion)"
    })
public final class Purser {

  /** Runs one command. Nothing is left to do when it ends, and halting saves looking for it. */
  public static void main(String[] args) {
    PrintWriter out = new PrintWriter(System.out, true, StandardCharsets.UTF_8);
    PrintWriter err = new PrintWriter(System.err, true, StandardCharsets.UTF_8);
    int code = run(out, err, args);
    out.flush();
    err.flush();
    System.out.flush();
    System.err.flush();
    Runtime.getRuntime().halt(code);
  }

  /** Runs one command with the given writers; returns its exit code. */
  public static int run(PrintWriter out, PrintWriter err, String... args) {
    try {
      Trust.asTheEnvironmentSays();
    } catch (IOException e) {
      err.println(Trust.VARIABLE + ": " + fileTrouble(e).orElse(e.getMessage()));
      err.flush();
      return 2;
    }
    String at = System.getenv("PURSER_AT");
    String[] words = args;
    if (args.length > 1 && args[0].equals("--at")) {
      at = args[1];
      words = Arrays.copyOfRange(args, 2, args.length);
    }
    Login.mean(at == null ? "" : at);
    return runWords(out, err, words);
  }

  private static int runWords(PrintWriter out, PrintWriter err, String... args) {
    CommandLine line = new CommandLine(new Purser());
    Optional<String> wrong = Commands.addWanted(line, List.of(args));
    if (wrong.isPresent()) {
      err.println(wrong.get());
      err.flush();
      return 2;
    }
    line.setOut(out);
    line.setErr(err);
    line.setUsageHelpAutoWidth(true);
    line.setCaseInsensitiveEnumValuesAllowed(true);
    line.setExecutionExceptionHandler(Purser::explain);
    line.setParameterExceptionHandler(Purser::explainUse);
    line.registerConverter(LocalDate.class, Purser::date);
    if (args.length == 0) {
      line.usage(out);
      return 2;
    }
    int code = line.execute(args);
    out.flush();
    err.flush();
    return code;
  }

  private static LocalDate date(String text) {
    try {
      return LocalDate.parse(text);
    } catch (DateTimeParseException e) {
      throw new CommandLine.TypeConversionException(
          "\"" + text + "\" is not a date; expected one such as 2027-03-04");
    }
  }

  /** What is wrong with a file that was named; empty where it is something else. */
  private static Optional<String> fileTrouble(Exception e) {
    Throwable cause = e instanceof UncheckedIOException wrapped ? wrapped.getCause() : e;
    if (cause instanceof NoSuchFileException missing) {
      return Optional.of("there is no file " + missing.getFile());
    }
    if (cause instanceof AccessDeniedException denied) {
      return Optional.of("you may not read or write " + denied.getFile());
    }
    return cause instanceof CharacterCodingException
        ? Optional.of("the file is not text in UTF-8")
        : Optional.empty();
  }

  /** What is wrong, what may be meant, and one line of what would be right. */
  private static int explainUse(CommandLine.ParameterException e, String[] args) {
    CommandLine line = e.getCommandLine();
    PrintWriter err = line.getErr();
    String message = e.getMessage();
    err.println(
        Output.harmless(message.substring(0, 1).toLowerCase(Locale.ROOT) + message.substring(1)));
    CommandLine.UnmatchedArgumentException.printSuggestions(e, err);
    String name = line.getCommandSpec().qualifiedName();
    err.println("usage: " + line.getHelp().abbreviatedSynopsis().strip());
    err.println(name + " --help says more");
    return 2;
  }

  private static int explain(Exception e, CommandLine line, CommandLine.ParseResult parsed) {
    if (e instanceof Service.Refusal refusal) {
      line.getErr().println(refusal.getMessage());
      return refusal.code();
    }
    Optional<String> file = fileTrouble(e);
    if (file.isPresent()) {
      line.getErr().println(file.get());
      return 2;
    }
    line.getErr().println("this went wrong inside purser itself: " + e);
    return 1;
  }
}
