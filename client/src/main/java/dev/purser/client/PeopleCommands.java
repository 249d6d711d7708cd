package dev.purser.client;

import dev.purser.wire.api.PeopleViews;
import java.io.Console;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about who may do something: signing in and out, people, tokens. */
final class PeopleCommands {
  private PeopleCommands() {}

  /** {@code purser login}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "login",
      mixinStandardHelpOptions = true,
      description = "Signs in and keeps a token for the commands that follow.",
      footer = {
        "",
        "Example: purser login --service http://127.0.0.1:8087 --name ida",
        "Example: purser login --as live --service https://purser.brannoch.example --name ida"
      })
  static final class Login implements Callable<Integer> {
    @CommandLine.Option(
        names = "--service",
        required = true,
        description =
            "The service's address; where another stands by, both addresses, separated by a comma.")
    private String service;

    @CommandLine.Option(names = "--name", required = true, description = "Your name.")
    private String name;

    @CommandLine.Option(
        names = "--as",
        paramLabel = "LOGIN",
        defaultValue = "",
        description = "Keep it beside the usual login, under this name: purser --at LOGIN COMMAND.")
    private String as;

    @CommandLine.Option(
        names = "--password-file",
        description = "A file with the password; without it you are asked.")
    private Path passwordFile;

    @CommandLine.Option(
        names = "--new-password-file",
        description = "A file with a new password to set with this sign-in.")
    private Path newPasswordFile;

    @CommandLine.Spec private CommandLine.Model.CommandSpec spec;

    /** The request, with a label so that a token is made. */
    record Request(String name, String password, String tokenLabel, String newPassword) {}

    @Override
    public Integer call() throws IOException {
      if (!as.isEmpty() && !dev.purser.client.Login.isName(as)) {
        throw new Service.Refusal(
            2,
            "\""
                + as
                + "\" is not a valid name for a login; expected lower-case letters, digits and"
                + " dashes, such as live");
      }
      String password =
          passwordFile == null
              ? ask("password: ", "--password-file")
              : Files.readString(passwordFile).strip();
      String fresh = newPasswordFile == null ? "" : Files.readString(newPasswordFile).strip();
      for (String one : service.split(",")) {
        if (one.strip().matches("(?i)http://(?!localhost|127\\.|\\[::1]).*")) {
          spec.commandLine()
              .getErr()
              .println(
                  one.strip() + " is plain http: your password can be read on the way; use https");
        }
      }
      PeopleViews.TokenView token;
      try {
        token = signIn(password, fresh);
      } catch (Service.Refusal e) {
        if (e.status() != 403 || newPasswordFile != null || System.console() == null) {
          throw e;
        }
        spec.commandLine().getErr().println("this password must be replaced");
        token =
            signIn(password, ask("new password, at least 12 characters: ", "--new-password-file"));
      }
      new dev.purser.client.Login(service, token.token()).keep(as);
      spec.commandLine()
          .getOut()
          .println(
              "logged in to "
                  + service
                  + " as "
                  + token.name()
                  + ", "
                  + token.role()
                  + (as.isEmpty() ? "" : "; purser --at " + as + " COMMAND means this login"));
      return 0;
    }

    private PeopleViews.TokenView signIn(String password, String fresh) {
      String label = "purser client of " + System.getProperty("user.name");
      return new Service(new dev.purser.client.Login(service, ""))
          .post(PeopleViews.TokenView.class, "/session", new Request(name, password, label, fresh));
    }
  }

  /**
   * Asks for what must not be seen.
   *
   * @param otherwise the option that gives it where there is nobody to ask
   */
  static String ask(String prompt, String otherwise) {
    Console console = System.console();
    if (console == null) {
      throw new Service.Refusal(2, "there is no terminal to ask on; give " + otherwise);
    }
    return new String(console.readPassword(prompt));
  }

  /** {@code purser logout}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "logout",
      mixinStandardHelpOptions = true,
      description = "Ends the token that login has kept, there and here.",
      footer = {"", "Example: purser logout"})
  static final class Logout implements Callable<Integer> {
    @CommandLine.Spec private CommandLine.Model.CommandSpec spec;

    @Override
    public Integer call() throws IOException {
      dev.purser.client.Login login = dev.purser.client.Login.find();
      try {
        new Service(login).delete("/session", Map.of());
      } catch (Service.Refusal e) {
        if (e.status() != 401) {
          throw e; // the token would go on opening the service
        }
      }
      Files.deleteIfExists(dev.purser.client.Login.file());
      spec.commandLine().getOut().println("logged out of " + login.service());
      return 0;
    }
  }

  /** {@code purser people}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "people",
      mixinStandardHelpOptions = true,
      description = "Who may sign in.",
      footer = {
        "",
        "Example: purser people add ida --role operator --password-file secret",
        "Example: purser people lock ida --reason \"left the company\""
      })
  static final class People implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @Override
    public Integer call() {
      output.list(
          PeopleViews.PersonView.class,
          Service.loggedIn().list(PeopleViews.PersonView.class, "/people", Map.of()),
          List.of(
              new Output.Column<>("name", PeopleViews.PersonView::name),
              new Output.Column<>("role", PeopleViews.PersonView::role),
              new Output.Column<>("tokens", PeopleViews.PersonView::tokens),
              new Output.Column<>("since", PeopleViews.PersonView::since),
              new Output.Column<>("mail", PeopleViews.PersonView::mail),
              new Output.Column<>("note", People::note)),
          "there is nobody");
      return 0;
    }

    private static String note(PeopleViews.PersonView person) {
      if (person.locked()) {
        return "locked out";
      }
      return person.mustChange() ? "must replace the password" : "";
    }

    @CommandLine.Command(
        name = "add",
        mixinStandardHelpOptions = true,
        description =
            "Adds a person, or gives one another password, which they must replace when they sign in"
                + " next. Without a password only the role changes.")
    Integer add(
        @CommandLine.Parameters(paramLabel = "NAME", description = "The person's name.")
            String name,
        @CommandLine.Option(
                names = "--role",
                required = true,
                description = "viewer, operator, author or administrator.")
            String role,
        @CommandLine.Option(
                names = "--password-file",
                description = "A file with the password; needed for somebody new.")
            Path password,
        @CommandLine.Option(
                names = "--mail",
                description = "Where alerts reach this person; \"\" for nowhere.")
            String mail)
        throws IOException {
      String first = password == null ? "" : Files.readString(password).strip();
      PeopleViews.PersonView person =
          Service.loggedIn()
              .put(
                  PeopleViews.PersonView.class,
                  "/people/" + Service.encode(name),
                  new PeopleViews.PersonRequest(name, role, first, mail));
      output.one(
          person,
          () ->
              output.line(
                  person.name()
                      + " is "
                      + person.role()
                      + (person.mustChange()
                          ? ", and must replace the password at the first sign-in"
                          : "")));
      return 0;
    }

    @CommandLine.Command(
        name = "lock",
        mixinStandardHelpOptions = true,
        description = "Locks a person out at once, with all sessions and tokens.")
    Integer lock(
        @CommandLine.Parameters(paramLabel = "NAME") String name,
        @CommandLine.Option(
                names = "--reason",
                defaultValue = "",
                description = "The reason, for the audit trail.")
            String reason) {
      return act(name, "lock", reason, " is locked out");
    }

    @CommandLine.Command(
        name = "unlock",
        mixinStandardHelpOptions = true,
        description = "Lets a person in again; their tokens open what they opened before.")
    Integer unlock(
        @CommandLine.Parameters(paramLabel = "NAME") String name,
        @CommandLine.Option(
                names = "--reason",
                defaultValue = "",
                description = "The reason, for the audit trail.")
            String reason) {
      return act(name, "unlock", reason, " may sign in again");
    }

    @CommandLine.Command(
        name = "sign-out",
        mixinStandardHelpOptions = true,
        description = "Ends all of a person's sessions in browsers; tokens go on.")
    Integer signOut(
        @CommandLine.Parameters(paramLabel = "NAME") String name,
        @CommandLine.Option(
                names = "--reason",
                defaultValue = "",
                description = "The reason, for the audit trail.")
            String reason) {
      return act(name, "sign-out", reason, " must sign in anew");
    }

    private Integer act(String name, String action, String reason, String done) {
      PeopleViews.PersonView person =
          Service.loggedIn()
              .post(
                  PeopleViews.PersonView.class,
                  "/people/" + Service.encode(name) + "/actions",
                  new PeopleViews.PersonAction(action, reason));
      output.one(person, () -> output.line(person.name() + done));
      return 0;
    }

    @CommandLine.Command(
        name = "remove",
        mixinStandardHelpOptions = true,
        description = "Removes a person and their tokens.")
    Integer remove(
        @CommandLine.Parameters(paramLabel = "NAME", description = "The person's name.")
            String name) {
      Service.loggedIn().delete("/people/" + Service.encode(name), Map.of());
      output.line(name + " is removed");
      return 0;
    }
  }

  /** {@code purser tokens}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "tokens",
      mixinStandardHelpOptions = true,
      description = "Your tokens, by which programs act for you.",
      footer = {
        "",
        "Example: purser tokens new \"calendar on my phone\" --feed",
        "Example: purser tokens end 12"
      })
  static final class Tokens implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(
        names = "--all",
        description = "Show everybody's tokens; for administrators.")
    private boolean all;

    @Override
    public Integer call() {
      output.list(
          PeopleViews.TokenLine.class,
          Service.loggedIn()
              .list(PeopleViews.TokenLine.class, "/tokens", Map.of("all", String.valueOf(all))),
          List.of(
              new Output.Column<>("id", PeopleViews.TokenLine::id),
              new Output.Column<>("person", PeopleViews.TokenLine::person),
              new Output.Column<>("label", PeopleViews.TokenLine::label),
              new Output.Column<>("opens", Tokens::opens),
              new Output.Column<>("made", PeopleViews.TokenLine::created),
              new Output.Column<>("ends", PeopleViews.TokenLine::expires),
              new Output.Column<>("last used", PeopleViews.TokenLine::used)),
          "there is no token");
      return 0;
    }

    private static String opens(PeopleViews.TokenLine token) {
      if (!token.open()) {
        return "nothing: its time is up";
      }
      return switch (token.scope()) {
        case "feed" -> "the feed";
        case "api" -> "the API";
        default -> "the API and the feed";
      };
    }

    @CommandLine.Command(
        name = "new",
        mixinStandardHelpOptions = true,
        description = "Makes a token and prints it; nobody can see it again.")
    Integer make(
        @CommandLine.Parameters(paramLabel = "LABEL", description = "What it is for.") String label,
        @CommandLine.Option(
                names = "--feed",
                description = "A token that opens the feed for calendar programs and nothing else.")
            boolean feed,
        @CommandLine.Option(
                names = "--days",
                defaultValue = "365",
                description = "For how many days; 365 by default.")
            int days) {
      PeopleViews.TokenView token =
          Service.loggedIn()
              .post(
                  PeopleViews.TokenView.class,
                  "/tokens",
                  new PeopleViews.TokenRequest(label, feed ? "feed" : "api", days));
      output.one(token, () -> output.line(token.token()));
      return 0;
    }

    @CommandLine.Command(
        name = "end",
        mixinStandardHelpOptions = true,
        description = "Ends a token at once; an administrator may end anybody's.")
    Integer end(
        @CommandLine.Parameters(
                paramLabel = "ID",
                description = "Its number, as purser tokens lists it.")
            long id,
        @CommandLine.Option(
                names = "--reason",
                defaultValue = "",
                description = "The reason, for the audit trail.")
            String reason) {
      Service.loggedIn().delete("/tokens/" + id, Map.of("reason", reason));
      output.line("token " + id + " opens nothing any more");
      return 0;
    }
  }
}
