package dev.purser.service.care;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.problem.Shorten;
import dev.purser.service.agent.AgentLink;
import dev.purser.service.agent.HostRecords;
import dev.purser.service.agent.HostRow;
import dev.purser.service.agent.HostSigns;
import dev.purser.service.board.Engine;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** Looks at agents: who is missing, whose clock is wrong, whose disk fills up. */
@Component
class HostFindings implements Look {
  private static final double NEARLY_NOTHING = 0.02;
  private static final int NAMED = 5;

  private final Engine engine;
  private final AgentLink link;
  private final HostRecords records;

  HostFindings(Engine engine, AgentLink link, HostRecords records) {
    this.engine = engine;
    this.link = link;
    this.records = records;
  }

  @Override
  public String about() {
    return "agents";
  }

  @Override
  public List<Finding> find() {
    Definitions definitions = engine.definitions();
    List<HostRow> rows = records.all();
    Map<String, String> drained = engine.look(board -> Map.copyOf(board.drainedHosts()));
    List<Finding> all = new ArrayList<>();
    all.add(presence(rows, definitions, drained));
    clocks(rows).ifPresent(all::add);
    disks(rows).ifPresent(all::add);
    if (!drained.isEmpty()) {
      all.add(
          Finding.look(
              "drained hosts",
              some(new TreeSet<>(drained.keySet()))
                  + (drained.size() == 1 ? " takes" : " take")
                  + " nothing new",
              "purser hosts return HOST, when the work on it is done"));
    }
    Set<String> versions =
        rows.stream()
            .filter(row -> link.presence(row.name).isPresent())
            .map(row -> row.version)
            .collect(Collectors.toCollection(TreeSet::new));
    if (versions.size() > 1) {
      all.add(
          Finding.look(
              "agents' versions",
              "agents of several versions are connected: " + String.join(", ", versions),
              "upgrade the older ones; running work is not disturbed"));
    }
    return all;
  }

  private Finding presence(
      List<HostRow> rows, Definitions definitions, Map<String, String> drained) {
    Set<String> enrolled = rows.stream().map(row -> row.name).collect(Collectors.toSet());
    Set<String> away =
        enrolled.stream()
            .filter(host -> link.presence(host).isEmpty() && !drained.containsKey(host))
            .collect(Collectors.toCollection(TreeSet::new));
    if (!away.isEmpty()) {
      return Finding.bad(
          "agents",
          away.size()
              + " of "
              + enrolled.size()
              + (away.size() == 1 ? " is" : " are")
              + " not connected: "
              + some(away),
          "on the host: systemctl status purser-agent, and its log; from there, can it reach this"
              + " service's address? A host that is down on purpose is drained: purser hosts drain");
    }
    Set<String> strangers =
        definitions.hosts().stream()
            .map(HostDefinition::name)
            .filter(host -> !enrolled.contains(host))
            .collect(Collectors.toCollection(TreeSet::new));
    if (!strangers.isEmpty()) {
      return Finding.look(
          "agents",
          "defined, but no agent was ever enrolled: " + some(strangers),
          "purser hosts enrol HOST gives a token for its agent");
    }
    return Finding.good("agents", "all " + enrolled.size() + " are connected");
  }

  private Optional<Finding> clocks(List<HostRow> rows) {
    List<String> wrong = new ArrayList<>();
    for (HostRow row : rows) {
      long ahead =
          link.presence(row.name).map(AgentLink.Presence::ahead).orElse(row.clockDifference);
      if (Math.abs(ahead) > HostSigns.WRONG_CLOCK_MILLIS) {
        wrong.add(
            row.name + " " + Math.abs(ahead) / 1000 + " s " + (ahead > 0 ? "ahead" : "behind"));
      }
    }
    if (wrong.isEmpty()) {
      return rows.isEmpty()
          ? Optional.empty()
          : Optional.of(Finding.good("agents' clocks", "none is off by more than 2 s"));
    }
    return Optional.of(
        Finding.look(
            "agents' clocks",
            some(wrong) + "; times on record are corrected by that",
            "set up time synchronisation there: what the work itself stamps is wrong"));
  }

  private Optional<Finding> disks(List<HostRow> rows) {
    List<String> scarce = new ArrayList<>();
    boolean bad = false;
    for (HostRow row : rows) {
      var machine =
          link.presence(row.name).map(AgentLink.Presence::machine).orElseGet(row::machine);
      double free = HostSigns.part(machine.diskFree(), machine.disk());
      if (free < HostSigns.SCARCE_DISK) {
        scarce.add(
            String.format(
                Locale.ROOT,
                "%s %.1f GB (%.0f %%)",
                row.name,
                machine.diskFree() / 1e9,
                free * 100));
        bad |= free < NEARLY_NOTHING;
      }
    }
    if (scarce.isEmpty()) {
      return rows.isEmpty()
          ? Optional.empty()
          : Optional.of(Finding.good("agents' disks", "more than 10 % is free everywhere"));
    }
    String text = "little is free where agents keep their journals: " + some(scarce);
    String remedy = "make room; a full disk starts no work and loses output";
    return Optional.of(
        bad
            ? Finding.bad("agents' disks", text, remedy)
            : Finding.look("agents' disks", text, remedy));
  }

  private static String some(java.util.Collection<String> names) {
    return Shorten.names(names, NAMED);
  }
}
