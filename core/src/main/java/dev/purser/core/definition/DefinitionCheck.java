package dev.purser.core.definition;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import java.time.LocalDate;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/** Holds definitions against each other: names that must exist, circles, rules that never pick. */
public final class DefinitionCheck {
  private static final int YEARS_AHEAD = 2;
  private static final int DAYS_AHEAD = 400;

  private final Definitions all;
  private final LocalDate today;
  private final List<Problem> problems = new ArrayList<>();

  private DefinitionCheck(Definitions all, LocalDate today) {
    this.all = all;
    this.today = today;
  }

  /**
   * What checking found.
   *
   * @param definitions what would be defined afterwards
   * @param problems in reading order; with an error among them nothing may be published
   */
  public record Result(Definitions definitions, List<Problem> problems) {
    /** Whether the definitions may be published. */
    public boolean isSound() {
      return problems.stream().noneMatch(Problem::isError);
    }
  }

  /**
   * Reads files and checks them together with what is defined already.
   *
   * @param existing what is defined already
   * @param today from which rules are looked at
   */
  public static Result check(Definitions existing, List<SourceFile> files, LocalDate today) {
    DefinitionReader.Reading reading = DefinitionReader.read(files);
    return check(existing, reading, today);
  }

  /** Checks what was read together with what is defined already. */
  public static Result check(
      Definitions existing, DefinitionReader.Reading reading, LocalDate today) {
    Definitions merged = existing.with(reading.documents());
    DefinitionCheck check = new DefinitionCheck(merged, today);
    check.problems.addAll(reading.problems());
    check.twice(reading.documents());
    reading.documents().forEach(document -> check.mentions(document, reading.broken()));
    if (check.problems.stream().noneMatch(Problem::isError)) {
      check.circles(reading.documents());
      reading.documents().forEach(check::days);
      reading.documents().forEach(check::capacities);
    }
    return new Result(merged, check.problems.stream().sorted(Problem.IN_READING_ORDER).toList());
  }

  /** Everything that mentions a definition, as user names; empty where it may be withdrawn. */
  public static Collection<String> usersOf(Definitions definitions, Kind kind, String name) {
    Definitions without = definitions.without(kind, name);
    Set<String> users = new TreeSet<>();
    for (Document document : without.documents()) {
      for (Document.Mention mention : document.mentions()) {
        if (exists(definitions, mention) && !exists(without, mention)) {
          users.add(mention.user());
        }
      }
    }
    return users;
  }

  private void twice(List<Document> documents) {
    Map<String, Document> seen = new HashMap<>();
    for (Document document : documents) {
      Document first = seen.putIfAbsent(document.kind() + " " + document.name(), document);
      if (first != null) {
        problems.add(
            Problem.error(
                document.file(),
                document.line(),
                1,
                "the "
                    + document.kind().title()
                    + " \""
                    + document.name()
                    + "\" is defined twice; first in "
                    + first.file()
                    + " line "
                    + first.line()));
      }
    }
  }

  private void mentions(Document document, Set<String> broken) {
    for (Document.Mention mention : document.mentions()) {
      if (!exists(all, mention) && !isBroken(mention, broken)) {
        problems.add(
            document.error(
                mention,
                "unknown "
                    + title(mention.what())
                    + " \""
                    + mention.name()
                    + "\""
                    + Nearest.hint(mention.name(), candidates(mention))));
      }
    }
  }

  /** Whether what is mentioned stands in a definition that has errors of its own. */
  private static boolean isBroken(Document.Mention mention, Set<String> broken) {
    String path = Definitions.resolve(mention.name(), mention.within());
    return broken.stream()
        .map(one -> one.substring(one.indexOf(' ') + 1))
        .anyMatch(name -> mention.name().equals(name) || path.startsWith(name + "/"));
  }

  private static boolean exists(Definitions all, Document.Mention mention) {
    return switch (mention.what()) {
      case JOB_OR_STREAM ->
          all.job(Definitions.resolve(mention.name(), mention.within())).isPresent()
              || all.stream(mention.name()).isPresent();
      case FILE_WATCH -> all.names(Kind.FILE_WATCH).contains(mention.name());
      case BUSINESS_CALENDAR -> all.calendars().businessNames().contains(mention.name());
      case HOLIDAY_CALENDAR -> all.calendars().holidayNames().contains(mention.name());
      case CALENDAR ->
          all.calendars().businessNames().contains(mention.name())
              || all.calendars().holidayNames().contains(mention.name());
      case HOST -> all.names(Kind.HOST).contains(mention.name());
      case HOST_GROUP -> all.names(Kind.HOST_GROUP).contains(mention.name());
      case CAPACITY -> all.names(Kind.CAPACITY).contains(mention.name());
      case RECIPIENT -> all.names(Kind.RECIPIENT).contains(mention.name());
    };
  }

  private static String title(Document.What what) {
    return switch (what) {
      case JOB_OR_STREAM -> "job or stream";
      case FILE_WATCH -> "file watch";
      case BUSINESS_CALENDAR -> "business calendar";
      case HOLIDAY_CALENDAR -> "holiday calendar";
      case CALENDAR -> "calendar";
      case HOST -> "host";
      case HOST_GROUP -> "host group";
      case CAPACITY -> "capacity";
      case RECIPIENT -> "recipient";
    };
  }

  private Collection<String> candidates(Document.Mention mention) {
    return switch (mention.what()) {
      case JOB_OR_STREAM -> jobNames(mention);
      case FILE_WATCH -> all.names(Kind.FILE_WATCH);
      case BUSINESS_CALENDAR -> all.calendars().businessNames();
      case HOLIDAY_CALENDAR -> all.calendars().holidayNames();
      case CALENDAR -> {
        Set<String> both = new TreeSet<>(all.calendars().businessNames());
        both.addAll(all.calendars().holidayNames());
        yield both;
      }
      case HOST -> all.names(Kind.HOST);
      case HOST_GROUP -> all.names(Kind.HOST_GROUP);
      case CAPACITY -> all.names(Kind.CAPACITY);
      case RECIPIENT -> all.names(Kind.RECIPIENT);
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
    all.streams().forEach(s -> s.jobs().forEach(job -> names.add(s.pathOf(job))));
    return names;
  }

  /** Every job that a job's prerequisite names, by full path; a stream stands for its jobs. */
  static Set<String> waitedFor(Definitions all, String stream, Job job) {
    Set<String> paths = new LinkedHashSet<>();
    for (Prerequisite.RunEnded run : job.waitsFor().map(Prerequisite::runs).orElse(List.of())) {
      String path = Definitions.resolve(run.job(), stream);
      Optional<Stream> whole = all.job(path).isPresent() ? Optional.empty() : all.stream(run.job());
      if (whole.isPresent()) {
        whole.get().jobs().forEach(inner -> paths.add(whole.get().pathOf(inner)));
      } else {
        paths.add(path);
      }
    }
    return paths;
  }

  /** Depth-first search for back edges; each circle found is printed whole. */
  private void circles(List<Document> documents) {
    Set<String> done = new HashSet<>();
    for (Document document : documents) {
      if (document.value() instanceof Stream stream) {
        for (Job job : stream.jobs()) {
          circle(stream.pathOf(job), new ArrayDeque<>(), done)
              .ifPresent(
                  circle ->
                      problems.add(
                          Problem.error(
                              document.file(),
                              document.line(),
                              1,
                              "prerequisites go in a circle: " + String.join(" → ", circle))));
        }
      }
    }
  }

  private Optional<List<String>> circle(String path, Deque<String> trail, Set<String> done) {
    if (trail.contains(path)) {
      List<String> circle = new ArrayList<>(trail);
      circle = new ArrayList<>(circle.subList(circle.indexOf(path), circle.size()));
      circle.add(path);
      return Optional.of(circle);
    }
    if (!done.add(path)) {
      return Optional.empty();
    }
    trail.addLast(path);
    Optional<Job> job = all.job(path);
    if (job.isPresent()) {
      String stream = path.substring(0, path.lastIndexOf('/'));
      for (String next : waitedFor(all, stream, job.get())) {
        Optional<List<String>> found = circle(next, trail, done);
        if (found.isPresent()) {
          return found;
        }
      }
    }
    trail.removeLast();
    return Optional.empty();
  }

  private void days(Document document) {
    if (!(document.value() instanceof Stream stream) || stream.schedule().isEmpty()) {
      return;
    }
    DayRule rule = stream.schedule().get().days();
    Calendars calendars = all.calendarsOf(stream);
    if (rule.pick(today, today.plusYears(YEARS_AHEAD), calendars).size() == 0) {
      problems.add(
          document.warning(
              "the day rule \"" + rule + "\" picks no day in the next " + YEARS_AHEAD + " years"));
    }
    unmet(document, stream);
  }

  /** Warns of prerequisites on streams that are not planned on some of this stream's dates. */
  private void unmet(Document document, Stream stream) {
    Set<LocalDate> own = dates(stream);
    for (Job job : stream.jobs()) {
      Set<String> others =
          waitedFor(all, stream.path(), job).stream()
              .map(path -> path.substring(0, path.lastIndexOf('/')))
              .filter(path -> !path.equals(stream.path()))
              .collect(Collectors.toCollection(TreeSet::new));
      for (String other : others) {
        List<LocalDate> missing = new ArrayList<>(own);
        missing.removeAll(dates(all.stream(other).orElseThrow()));
        if (!missing.isEmpty()) {
          problems.add(document.warning(unmetMessage(stream.pathOf(job), other, missing)));
        }
      }
    }
  }

  private static String unmetMessage(String job, String other, List<LocalDate> missing) {
    String dates =
        missing.stream()
            .sorted()
            .limit(3)
            .map(LocalDate::toString)
            .collect(Collectors.joining(", "));
    String more = missing.size() > 3 ? " and " + (missing.size() - 3) + " more dates" : "";
    return job
        + " waits for "
        + other
        + ", which is not planned on "
        + dates
        + more
        + " of the next "
        + DAYS_AHEAD
        + " days: there it would wait for ever";
  }

  private Set<LocalDate> dates(Stream stream) {
    return stream
        .schedule()
        .map(
            s ->
                new TreeSet<>(
                    s.days()
                        .pick(today, today.plusDays(DAYS_AHEAD), all.calendarsOf(stream))
                        .days()))
        .orElseGet(TreeSet::new);
  }

  private void capacities(Document document) {
    if (!(document.value() instanceof Stream stream)) {
      return;
    }
    Map<String, Integer> units =
        all.capacities().stream().collect(Collectors.toMap(Capacity::name, Capacity::units));
    for (Job job : stream.jobs()) {
      job.takes()
          .forEach(
              (name, taken) -> {
                if (taken > units.get(name)) {
                  problems.add(
                      Problem.error(
                          document.file(),
                          document.line(),
                          1,
                          stream.pathOf(job)
                              + " takes "
                              + taken
                              + " units of \""
                              + name
                              + "\", which has only "
                              + units.get(name)));
                }
              });
    }
  }
}
