package dev.purser.core.reading;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.job.Placement;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads where a job is placed, and refuses what has no meaning there. */
final class PlacementReader {
  private static final String WITH_FILE = "with the file";
  private static final Pattern OF_GROUP =
      Pattern.compile("(any|each|[1-9]\\d{0,2}) of ([a-z0-9][a-z0-9._-]*)");

  /** Of what runs as a process on a host. */
  private static final List<String> OF_HOSTS =
      List.of("host", "directory", "environment", "user", "secrets", "secret-files");

  /** Of what has attempts. */
  private static final List<String> OF_ATTEMPTS =
      List.of("stop-after", "grace", "retry", "may-repeat", "succeeds-with");

  private final Page page;

  PlacementReader(Page page) {
    this.page = page;
  }

  Placement read(WorkKind kind, JobFields job, Fields.Entry entry) {
    return switch (kind.happens()) {
      case ON_HOSTS -> onHosts(job, entry);
      case IN_SERVICE -> {
        refuse(kind, job, OF_HOSTS);
        yield new Placement.InService(through(job));
      }
      case NOWHERE -> {
        refuse(kind, job, OF_HOSTS);
        refuse(kind, job, OF_ATTEMPTS);
        yield new Placement.Nowhere();
      }
    };
  }

  private void refuse(WorkKind kind, JobFields job, List<String> keys) {
    for (String key : keys) {
      if (job.fields().has(key) && !kind.alsoTakes().contains(key)) {
        job.error(
            key,
            "a job with \""
                + kind.key()
                + "\" runs "
                + kind.happens().inWords()
                + "; leave \""
                + key
                + "\" out");
      }
    }
  }

  private Placement.Through through(JobFields job) {
    if (!job.fields().has("host")) {
      return Placement.Through.NONE;
    }
    String text = job.fields().text("host", "");
    Matcher ofGroup = OF_GROUP.matcher(text);
    if (ofGroup.matches() && ofGroup.group(1).equals("any")) {
      job.mention("host", Document.What.HOST_GROUP, ofGroup.group(2));
      return new Placement.Through("", ofGroup.group(2));
    }
    if (text.contains(" ")) {
      job.error(
          "host",
          "this work goes through one agent: expected a host's name or any of a group, as in any of"
              + " quays");
    } else {
      job.mention("host", Document.What.HOST, text);
    }
    return new Placement.Through(text, "");
  }

  private Placement onHosts(JobFields job, Fields.Entry entry) {
    if (!job.fields().has("host")) {
      page.error(entry.key(), "job \"" + entry.name() + "\" has no \"host\" to run on");
      return new Placement.Nowhere();
    }
    String text = job.fields().text("host", "");
    Matcher ofGroup = OF_GROUP.matcher(text);
    if (ofGroup.matches()) {
      String group = ofGroup.group(2);
      job.mention("host", Document.What.HOST_GROUP, group);
      return switch (ofGroup.group(1)) {
        case "any", "1" -> new Placement.AnyOf(group);
        case "each" -> new Placement.EachOf(group);
        default -> new Placement.SomeOf(Integer.parseInt(ofGroup.group(1)), group);
      };
    }
    if (text.equals(WITH_FILE)) {
      job.needsParameter("host", StartsOn.HOST);
      return new Placement.WithFile();
    }
    if (text.contains(" ")) {
      job.error(
          "host",
          "cannot read the host \""
              + text
              + "\"; expected a host's name, or any of, each of or a number of hosts of a group, as"
              + " in \"2 of quays\"; or with the file");
    } else {
      job.mention("host", Document.What.HOST, text);
    }
    return new Placement.OnHost(text);
  }
}
