package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/** Looks up every name that a definition mentions. */
final class NameCheck {
  private final Definitions all;
  private final List<Problem> problems;

  NameCheck(Definitions all, List<Problem> problems) {
    this.all = all;
    this.problems = problems;
  }

  /** Says which of the names in a document stand for nothing. */
  void of(Document document, Set<String> brokenNames) {
    for (Document.Mention mention : document.mentions()) {
      if (!exists(all, mention) && !isBroken(mention, brokenNames)) {
        boolean placeholder = mention.what() == Document.What.PARAMETER;
        String name = placeholder ? "${" + mention.name() + "}" : "\"" + mention.name() + "\"";
        problems.add(
            document.error(
                mention,
                "unknown "
                    + title(mention.what())
                    + " "
                    + name
                    + Nearest.hint(mention.name(), candidates(mention))));
      }
    }
  }

  /** Whether what is mentioned stands in a definition that has errors of its own. */
  private static boolean isBroken(Document.Mention mention, Set<String> brokenNames) {
    if (brokenNames.isEmpty() || brokenNames.contains(mention.name())) {
      return !brokenNames.isEmpty();
    }
    String path = Definitions.resolve(mention.name(), mention.within());
    for (int slash = path.lastIndexOf('/'); slash > 0; slash = path.lastIndexOf('/', slash - 1)) {
      if (brokenNames.contains(path.substring(0, slash))) {
        return true;
      }
    }
    return false;
  }

  /** The names of what has errors in itself, which the reader tells with its kind before it. */
  static Set<String> namesOf(Set<String> broken) {
    return broken.stream()
        .map(one -> one.substring(one.indexOf(' ') + 1))
        .collect(Collectors.toSet());
  }

  /** Whether a name stands for something. */
  static boolean exists(Definitions all, Document.Mention mention) {
    return switch (mention.what()) {
      case JOB_OR_STREAM, VALUE_OF ->
          all.job(Definitions.resolve(mention.name(), mention.within())).isPresent()
              || all.stream(mention.name()).isPresent();
      case STREAM -> all.stream(mention.name()).isPresent();
      case TEMPLATE -> all.names(Kind.TEMPLATE).contains(mention.name());
      case PARAMETER -> placeholders(all, mention).contains(mention.name());
      case FILE_WATCH -> all.names(Kind.FILE_WATCH).contains(mention.name());
      case BUSINESS_CALENDAR -> all.calendars().businessNames().contains(mention.name());
      case HOLIDAY_CALENDAR -> all.calendars().holidayNames().contains(mention.name());
      case CALENDAR ->
          all.calendars().businessNames().contains(mention.name())
              || all.calendars().holidayNames().contains(mention.name());
      case PERIOD -> all.calendars().periodNames().contains(mention.name());
      case CONNECTION -> all.names(Kind.CONNECTION).contains(mention.name());
      case REMOTE_SERVICE -> all.names(Kind.REMOTE_SERVICE).contains(mention.name());
      case HOST -> all.names(Kind.HOST).contains(mention.name());
      case HOST_GROUP -> all.names(Kind.HOST_GROUP).contains(mention.name());
      case CAPACITY -> all.names(Kind.CAPACITY).contains(mention.name());
      case RECIPIENT -> all.isAddressee(mention.name());
    };
  }

  static String title(Document.What what) {
    return switch (what) {
      case JOB_OR_STREAM, VALUE_OF -> "job or stream";
      case STREAM -> "stream";
      case TEMPLATE -> "template";
      case PARAMETER -> "placeholder";
      case FILE_WATCH -> "file watch";
      case BUSINESS_CALENDAR -> "business calendar";
      case HOLIDAY_CALENDAR -> "holiday calendar";
      case CALENDAR -> "calendar";
      case PERIOD -> "period";
      case CONNECTION -> "connection";
      case REMOTE_SERVICE -> "remote service";
      case HOST -> "host";
      case HOST_GROUP -> "host group";
      case CAPACITY -> "capacity";
      case RECIPIENT -> "recipient or duty";
    };
  }

  Collection<String> candidates(Document.Mention mention) {
    return switch (mention.what()) {
      case JOB_OR_STREAM, VALUE_OF -> jobNames(mention);
      case STREAM -> all.names(Kind.STREAM);
      case TEMPLATE -> all.names(Kind.TEMPLATE);
      case PARAMETER -> placeholders(all, mention);
      case FILE_WATCH -> all.names(Kind.FILE_WATCH);
      case BUSINESS_CALENDAR -> all.calendars().businessNames();
      case HOLIDAY_CALENDAR -> all.calendars().holidayNames();
      case CALENDAR -> all.calendars().names();
      case PERIOD -> {
        Set<String> names = new TreeSet<>(all.calendars().periodNames());
        names.addAll(List.of("week", "month", "quarter", "year"));
        yield names;
      }
      case CONNECTION -> all.names(Kind.CONNECTION);
      case REMOTE_SERVICE -> all.names(Kind.REMOTE_SERVICE);
      case HOST -> all.names(Kind.HOST);
      case HOST_GROUP -> all.names(Kind.HOST_GROUP);
      case CAPACITY -> all.names(Kind.CAPACITY);
      case RECIPIENT -> {
        Set<String> names = new TreeSet<>(all.names(Kind.RECIPIENT));
        names.addAll(all.names(Kind.DUTY));
        yield names;
      }
    };
  }

  private Collection<String> jobNames(Document.Mention mention) {
    if (!mention.name().contains("/")) {
      return all.stream(mention.within()).stream()
          .flatMap(stream -> stream.jobs().stream())
          .map(Job::name)
          .toList();
    }
    Set<String> names = new TreeSet<>(all.names(Kind.STREAM));
    all.streams().forEach(stream -> jobNames(stream, names, 0));
    return names;
  }

  private void jobNames(Stream stream, Set<String> names, int depth) {
    for (Job job : stream.jobs()) {
      names.add(stream.pathOf(job));
      if (job.isStep() && depth < 5) {
        all.streamAt(stream.pathOf(job)).ifPresent(inner -> jobNames(inner, names, depth + 1));
      }
    }
  }

  /** What may stand in braces in the text of a stream or of one of its jobs. */
  private static Set<String> placeholders(Definitions all, Document.Mention mention) {
    Optional<Job> job =
        all.stream(mention.within()).isPresent() ? Optional.empty() : all.job(mention.within());
    Optional<Stream> stream =
        job.isPresent()
            ? all.stream(mention.within().substring(0, mention.within().lastIndexOf('/')))
            : all.stream(mention.within());
    return KnownNames.of(all, stream, job);
  }
}
