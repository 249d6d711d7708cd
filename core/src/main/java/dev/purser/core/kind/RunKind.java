package dev.purser.core.kind;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Command;
import dev.purser.core.job.Job;
import dev.purser.core.job.Parts;
import dev.purser.core.job.Placement;
import dev.purser.core.job.SuccessRule;
import dev.purser.core.job.Work;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** {@code run}: a command on a host, or in parts on several. */
public final class RunKind implements WorkKind {
  private static final Pattern AT_LEAST = Pattern.compile("at least ([1-9]\\d{0,3})");

  @Override
  public String key() {
    return "run";
  }

  @Override
  public String inWords() {
    return "a command";
  }

  @Override
  public Set<String> reads() {
    return Set.of(Command.KIND, Parts.KIND);
  }

  @Override
  public Happens happens() {
    return Happens.ON_HOSTS;
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may(
            key(),
            Keys.Form.TEXT,
            "The command, read by /bin/sh on the host; with ${placeholders}.")
        .may(
            "succeeds-if",
            Keys.Form.TEXT,
            "Which of its parts must succeed: all, any, at least 2.");
  }

  /** Work on several hosts runs in parts. */
  @Override
  public Work read(JobFields job) {
    String line = job.shellLine(key());
    if (isOnSeveral(job.placement())) {
      return new Parts(line, succeedsIf(job));
    }
    if (job.fields().has("succeeds-if")) {
      job.error(
          "succeeds-if",
          "\"succeeds-if\" of a job is about its parts; only one on each of or a number of hosts has"
              + " parts");
    }
    return new Command(line);
  }

  private static boolean isOnSeveral(Placement placement) {
    return placement instanceof Placement.EachOf || placement instanceof Placement.SomeOf;
  }

  private static SuccessRule succeedsIf(JobFields job) {
    String text = job.fields().text("succeeds-if", "all");
    Matcher least = AT_LEAST.matcher(text);
    if (least.matches()) {
      SuccessRule rule = SuccessRule.atLeast(Integer.parseInt(least.group(1)));
      if (job.placement() instanceof Placement.SomeOf some && rule.least() > some.count()) {
        job.error("succeeds-if", "there are fewer parts than " + rule.least());
      }
      return rule;
    }
    if (text.equals("any")) {
      return SuccessRule.ANY;
    }
    if (!text.equals("all")) {
      job.error(
          "succeeds-if",
          "cannot use \"" + text + "\"; expected all, any, or at least N of the parts");
    }
    return SuccessRule.ALL;
  }

  /** Parts are planned on the hosts that are defined: there must be enough of them. */
  @Override
  public void check(Job job, Stream stream, Definitions all, Consumer<String> errors) {
    String group = job.placement().ofGroup().orElse("");
    if (!(job.work() instanceof Parts inParts) || all.document(Kind.HOST_GROUP, group).isEmpty()) {
      return;
    }
    List<String> hosts = all.membersOf(group);
    int asked = job.placement() instanceof Placement.SomeOf some ? some.count() : 1;
    int least = inParts.endsWell().least();
    int parts = job.placement() instanceof Placement.SomeOf ? asked : hosts.size();
    if (hosts.size() < asked) {
      errors.accept(
          "job \""
              + job.name()
              + "\" runs on "
              + job.placement()
              + ", but "
              + (hosts.isEmpty()
                  ? "no defined host belongs to that group"
                  : "only " + String.join(", ", hosts) + " of the defined hosts belong to it"));
    } else if (least > parts) {
      errors.accept(
          "job \""
              + job.name()
              + "\" needs at least "
              + least
              + " parts to succeed, but it has "
              + parts);
    }
  }
}
