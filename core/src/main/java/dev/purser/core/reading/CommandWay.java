package dev.purser.core.reading;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.Way;
import dev.purser.core.problem.Shorten;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** A command on a host, which has the alert as JSON on its standard input. */
final class CommandWay implements WayKind {
  private static final int LONGEST = 2_000;
  private static final int LONGEST_ADDRESS = 300;

  private static final Keys COMMAND =
      new Keys()
          .must("host", Keys.Form.NAME, "Whose agent runs it.")
          .must("run", Keys.Form.TEXT, "The command; the alert is JSON on its standard input.")
          .may("user", Keys.Form.TEXT, "On whose behalf it runs; the agent's own.");

  @Override
  public String name() {
    return "command";
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may("command", Keys.Form.ENTRY, "A command on a host, which is given the alert.", COMMAND);
  }

  @Override
  public List<Way> read(Fields recipient, Page page, Mentions mentions, String user) {
    if (!recipient.has("command")) {
      return List.of();
    }
    Fields command = new Fields(page, recipient.at("command"), COMMAND, "\"command\"");
    String host = command.name("host");
    mentions.add(command, "host", Document.What.HOST, host, "", user);
    String run = command.text("run", "").strip();
    if (run.length() > LONGEST) {
      page.error(command.at("run"), "the command has more than " + LONGEST + " characters");
    }
    if (run.contains("${")) {
      page.error(
          command.at("run"),
          "nothing is filled into the command: what is in an alert is never shell text; read it"
              + " from the JSON on standard input, and write $NAME for variables of the shell");
    }
    Map<String, String> options = new LinkedHashMap<>();
    options.put("host", host);
    options.put("run", run);
    if (command.has("user")) {
      options.put("user", command.text("user", ""));
    }
    return List.of(new Way(name(), Shorten.text(host + ": " + run, LONGEST_ADDRESS), options));
  }
}
