package dev.purser.core.definition;

import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.calendar.NamedPeriod;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Times;
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
  private static final int YEARS_FAR = 60;
  private static final List<String> GIVEN =
      List.of("run", "stream", "job", "attempt", "host", "date");

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
    check.documentsToLookAt(reading).forEach(d -> check.mentions(d, reading.broken()));
    if (check.problems.stream().noneMatch(Problem::isError)) {
      check.calendarCircles(reading.documents());
      check.problems.addAll(new StepCheck(merged).of(reading.documents()));
    }
    if (check.problems.stream().noneMatch(Problem::isError)) {
      check.circles(reading.documents());
    }
    if (check.problems.stream().noneMatch(Problem::isError)) {
      reading.documents().forEach(document -> check.windows(document, existing));
      reading.documents().forEach(check::days);
      check.capacities(reading.documents());
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

  /** What was read; and all streams, where values that they may lean on were read. */
  private List<Document> documentsToLookAt(DefinitionReader.Reading reading) {
    List<Document> documents = new ArrayList<>(reading.documents());
    if (documents.stream().anyMatch(document -> document.kind() == Kind.PARAMETERS)) {
      Set<String> read =
          documents.stream().map(Document::name).collect(Collectors.toCollection(HashSet::new));
      for (String name : all.names(Kind.STREAM)) {
        if (!read.contains(name)) {
          documents.add(all.document(Kind.STREAM, name).orElseThrow());
        }
      }
    }
    return documents;
  }

  private void mentions(Document document, Set<String> broken) {
    for (Document.Mention mention : document.mentions()) {
      if (!exists(all, mention) && !isBroken(mention, broken)) {
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
      case STREAM -> all.stream(mention.name()).isPresent();
      case PARAMETER -> placeholders(all, mention).contains(mention.name());
      case FILE_WATCH -> all.names(Kind.FILE_WATCH).contains(mention.name());
      case BUSINESS_CALENDAR -> all.calendars().businessNames().contains(mention.name());
      case HOLIDAY_CALENDAR -> all.calendars().holidayNames().contains(mention.name());
      case CALENDAR ->
          all.calendars().businessNames().contains(mention.name())
              || all.calendars().holidayNames().contains(mention.name());
      case PERIOD -> all.calendars().periodNames().contains(mention.name());
      case CONNECTION -> all.names(Kind.CONNECTION).contains(mention.name());
      case HOST -> all.names(Kind.HOST).contains(mention.name());
      case HOST_GROUP -> all.names(Kind.HOST_GROUP).contains(mention.name());
      case CAPACITY -> all.names(Kind.CAPACITY).contains(mention.name());
      case RECIPIENT -> all.names(Kind.RECIPIENT).contains(mention.name());
    };
  }

  private static String title(Document.What what) {
    return switch (what) {
      case JOB_OR_STREAM -> "job or stream";
      case STREAM -> "stream";
      case PARAMETER -> "placeholder";
      case FILE_WATCH -> "file watch";
      case BUSINESS_CALENDAR -> "business calendar";
      case HOLIDAY_CALENDAR -> "holiday calendar";
      case CALENDAR -> "calendar";
      case PERIOD -> "period";
      case CONNECTION -> "connection";
      case HOST -> "host";
      case HOST_GROUP -> "host group";
      case CAPACITY -> "capacity";
      case RECIPIENT -> "recipient";
    };
  }

  private Collection<String> candidates(Document.Mention mention) {
    return switch (mention.what()) {
      case JOB_OR_STREAM -> jobNames(mention);
      case STREAM -> all.names(Kind.STREAM);
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
    Set<String> names = new TreeSet<>(GIVEN);
    stream.ifPresent(found -> names.addAll(all.parameterNames(found, job)));
    job.flatMap(Job::waitsFor).ifPresent(asks -> names.addAll(asks.fileParameters()));
    if (stream.filter(Stream::hasWindows).isPresent()) {
      names.addAll(List.of("window.start", "window.end"));
    }
    return names;
  }

  /**
   * Every job whose end a job waits for, by full path: those that its prerequisite names, where a
   * stream stands for its jobs; those of the stream that it runs as a step; and for a job in a
   * step, what the step waits for. Whether something is running at the moment is waited for by
   * nobody.
   */
  static Set<String> waitedFor(Definitions all, String stream, Job job) {
    Set<String> paths = new LinkedHashSet<>(asked(all, stream, job));
    String own = stream + "/" + job.name();
    if (job.isStep()) {
      all.streamAt(own)
          .ifPresent(inner -> inner.jobs().forEach(one -> paths.add(inner.pathOf(one))));
    }
    for (String step = stream; all.stream(step).isEmpty() && step.indexOf('/') > 0; ) {
      String outer = step.substring(0, step.lastIndexOf('/'));
      all.job(step).ifPresent(found -> paths.addAll(asked(all, outer, found)));
      step = outer;
    }
    return paths;
  }

  private static Set<String> asked(Definitions all, String stream, Job job) {
    Set<String> paths = new LinkedHashSet<>();
    for (Prerequisite asks : job.asks()) {
      for (Prerequisite.Target target : endsOf(asks)) {
        if (target.isSameDate()) {
          paths.addAll(jobsOf(all, stream, target));
        }
      }
    }
    return paths;
  }

  private static List<Prerequisite.Target> endsOf(Prerequisite asks) {
    List<Prerequisite.Target> ends = new ArrayList<>(asks.targets());
    asks.runs().stream()
        .filter(run -> run.outcome() == Prerequisite.Outcome.RUNNING)
        .forEach(run -> ends.remove(run.target()));
    return ends;
  }

  /** The jobs that a name means: one, or all of a stream. */
  static List<String> jobsOf(Definitions all, String stream, Prerequisite.Target target) {
    String path = Definitions.resolve(target.name(), stream);
    Optional<Stream> whole =
        all.job(path).isPresent() ? Optional.empty() : all.stream(target.name());
    return whole
        .map(found -> found.jobs().stream().map(found::pathOf).toList())
        .orElse(List.of(path));
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

  /** Windows of another length begin with the next date: what has begun stays as it is. */
  private void windows(Document document, Definitions existing) {
    if (!(document.value() instanceof Stream stream) || !stream.hasWindows()) {
      return;
    }
    Optional<Stream> old = existing.stream(stream.path()).filter(Stream::hasWindows);
    Times now = stream.schedule().get(0).times();
    old.map(was -> was.schedule().get(0).times())
        .filter(was -> !was.toString().equals(now.toString()))
        .ifPresent(
            was ->
                problems.add(
                    document.warning(
                        stream.path()
                            + " has "
                            + now
                            + " now, not "
                            + was
                            + ": up to "
                            + today
                            + " they stay as they were, from "
                            + today.plusDays(1)
                            + " on they are the new ones")));
  }

  private void days(Document document) {
    if (document.value() instanceof Stream stream) {
      Calendars calendars = all.calendarsOf(stream);
      stream.dayRules().forEach(rule -> picksSomething(document, rule, calendars));
      problems.addAll(new UnmetCheck(all, today).of(document, stream));
    } else if (document.value() instanceof HolidayCalendar calendar) {
      for (HolidayCalendar.Holiday holiday : calendar.holidays()) {
        picksSomething(document, holiday.days(), all.calendars());
      }
    } else if (document.value() instanceof BusinessCalendar calendar) {
      picksSomething(document, calendar.working(), all.calendars());
    } else if (document.value() instanceof NamedPeriod period) {
      picksSomething(document, period.starts(), all.calendars());
    }
  }

  /** A rule that never picks is a warning, with its reason. */
  private void picksSomething(Document document, DayRule rule, Calendars calendars) {
    if (rule.pick(today, today.plusYears(YEARS_AHEAD), calendars).size() > 0) {
      return;
    }
    boolean ever =
        rule.pick(today.minusYears(YEARS_FAR), today.plusYears(YEARS_FAR), calendars).size() > 0;
    String reason = ever ? past(rule, calendars) : never(rule, calendars);
    problems.add(
        document.warning(
            "the day rule \""
                + rule
                + "\" picks no day in the next "
                + YEARS_AHEAD
                + " years: "
                + reason));
  }

  private String past(DayRule rule, Calendars calendars) {
    List<LocalDate> before = rule.pick(today.minusYears(YEARS_FAR), today, calendars).days();
    if (!before.isEmpty()) {
      return "the last day it picks is " + before.get(before.size() - 1);
    }
    List<LocalDate> after = rule.pick(today, today.plusYears(YEARS_FAR), calendars).days();
    return "the first day it picks is " + after.get(0);
  }

  private String never(DayRule rule, Calendars calendars) {
    for (DayRule part : rule.parts()) {
      boolean empty =
          part.pick(today.minusYears(YEARS_FAR), today.plusYears(YEARS_FAR), calendars).size() == 0;
      if (empty) {
        return part.parts().isEmpty()
            ? "there is no \"" + part + "\" in any year"
            : never(part, calendars);
      }
    }
    if (rule instanceof DayRule.Joined joined && joined.joint() == DayRule.Joint.AND) {
      return "no day is picked by both \"" + joined.left() + "\" and \"" + joined.right() + "\"";
    }
    return rule instanceof DayRule.Joined joined
        ? "\"" + joined.right() + "\" takes every day out of \"" + joined.left() + "\""
        : "there is no \"" + rule + "\" in any year";
  }

  /** Calendars and periods that are built on themselves; each circle is printed whole. */
  private void calendarCircles(List<Document> documents) {
    for (Document document : documents) {
      boolean calendar =
          document.kind() == Kind.HOLIDAY_CALENDAR || document.kind() == Kind.BUSINESS_CALENDAR;
      if (calendar || document.kind() == Kind.PERIOD) {
        String node = (calendar ? "" : "period ") + document.name();
        calendarCircle(node, new ArrayDeque<>(), new HashSet<>())
            .ifPresent(
                circle ->
                    problems.add(
                        Problem.error(
                            document.file(),
                            document.line(),
                            1,
                            "calendars are built on themselves: " + String.join(" → ", circle))));
      }
      boolean both =
          all.calendars().holidays(document.name()).isPresent()
              && all.calendars().business(document.name()).isPresent();
      if (calendar && both) {
        problems.add(
            Problem.error(
                document.file(),
                document.line(),
                1,
                "a holiday calendar and a business calendar are both named \""
                    + document.name()
                    + "\"; a rule could not tell them apart"));
      }
    }
  }

  private Optional<List<String>> calendarCircle(
      String node, Deque<String> trail, Set<String> done) {
    if (node.equals(trail.peekFirst())) {
      List<String> circle = new ArrayList<>(trail);
      circle.add(node);
      return Optional.of(circle);
    }
    if (!done.add(node)) {
      return Optional.empty();
    }
    trail.addLast(node);
    for (String next : all.calendars().leansOn(node)) {
      Optional<List<String>> found = calendarCircle(next, trail, done);
      if (found.isPresent()) {
        return found;
      }
    }
    trail.removeLast();
    return Optional.empty();
  }

  /**
   * Jobs that ask for more than there ever is; all jobs are looked at where a capacity was read.
   */
  private void capacities(List<Document> documents) {
    Map<String, Capacity> capacities =
        all.capacities().stream().collect(Collectors.toMap(Capacity::name, c -> c));
    Map<String, Document> read = new HashMap<>();
    Map<String, Document> streams = new HashMap<>();
    for (Document document : documents) {
      if (document.kind() == Kind.CAPACITY) {
        read.put(document.name(), document);
      } else if (document.kind() == Kind.STREAM) {
        streams.put(document.name(), document);
      }
    }
    for (Stream stream : all.streams()) {
      Optional<Document> own = Optional.ofNullable(streams.get(stream.path()));
      for (Job job : stream.jobs()) {
        job.takes()
            .forEach(
                (name, taken) -> {
                  int most = capacities.get(name).most();
                  Optional<Document> guilty = own.or(() -> Optional.ofNullable(read.get(name)));
                  if (taken > most && guilty.isPresent()) {
                    problems.add(
                        Problem.error(
                            guilty.get().file(),
                            guilty.get().line(),
                            1,
                            stream.pathOf(job)
                                + " takes "
                                + taken
                                + " units of \""
                                + name
                                + "\", which has only "
                                + most
                                + " at any time"));
                  }
                });
      }
    }
  }
}
