package dev.purser.core.definition;

import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.calendar.NamedPeriod;
import dev.purser.core.job.Job;
import dev.purser.core.job.OfStream;
import dev.purser.core.job.Parts;
import dev.purser.core.job.Placement;
import dev.purser.core.job.Work;
import dev.purser.core.parameter.Given;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.remote.RemoteService;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.template.Template;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;

/** Everything that is defined, by kind and name: an immutable catalogue. */
public final class Definitions {
  private static final int MAX_DEPTH = 20;

  private final Map<Kind, Map<String, Document>> documents;
  private final Calendars calendars;
  private final String environment;
  private final Map<String, Optional<Stream>> steps = new ConcurrentHashMap<>();
  private final Map<String, Stream> streams;
  private volatile AlertRules alertRules;

  private Definitions(Map<Kind, Map<String, Document>> documents, String environment) {
    this.documents = documents;
    this.environment = environment;
    this.streams = Collections.unmodifiableMap(values(Kind.STREAM, Stream.class));
    this.calendars =
        new Calendars(
            values(Kind.HOLIDAY_CALENDAR, HolidayCalendar.class),
            values(Kind.BUSINESS_CALENDAR, BusinessCalendar.class),
            values(Kind.PERIOD, NamedPeriod.class));
  }

  /** A catalogue of nothing. */
  public static Definitions none() {
    return of(List.of());
  }

  /** A catalogue of the given documents; a later one of the same kind and name wins. */
  public static Definitions of(Collection<Document> documents) {
    return of(documents, "");
  }

  private static Definitions of(Collection<Document> documents, String environment) {
    Map<Kind, Map<String, Document>> all = new TreeMap<>();
    for (Kind kind : Kind.values()) {
      all.put(kind, new TreeMap<>());
    }
    documents.forEach(document -> all.get(document.kind()).put(document.name(), document));
    all.replaceAll((kind, byName) -> new LinkedHashMap<>(byName)); // found at once, and in order
    return new Definitions(all, environment);
  }

  /** This catalogue as it is meant in an environment, such as {@code test}. */
  public Definitions in(String name) {
    return new Definitions(documents, name);
  }

  /** The environment that it is meant in; empty for none. */
  public String environment() {
    return environment;
  }

  /** This catalogue with the documents added, each in place of one of the same kind and name. */
  public Definitions with(Collection<Document> more) {
    List<Document> all = new ArrayList<>(documents());
    all.addAll(more);
    return of(all, environment);
  }

  /** This catalogue without some documents, then with others added. */
  public Definitions with(Collection<Document> more, Collection<Document> gone) {
    if (gone.isEmpty()) {
      return with(more);
    }
    Set<Document> without = Collections.newSetFromMap(new IdentityHashMap<>());
    without.addAll(gone);
    List<Document> all =
        new ArrayList<>(documents().stream().filter(one -> !without.contains(one)).toList());
    all.addAll(more);
    return of(all, environment);
  }

  /**
   * This catalogue without one document; itself in all else, also where there is no such document.
   */
  public Definitions without(Kind kind, String name) {
    return of(
        documents().stream()
            .filter(document -> document.kind() != kind || !document.name().equals(name))
            .toList(),
        environment);
  }

  /** All documents, by kind and name. */
  public Collection<Document> documents() {
    return documents.values().stream().flatMap(byName -> byName.values().stream()).toList();
  }

  /** The document of a kind and name. */
  public Optional<Document> document(Kind kind, String name) {
    return Optional.ofNullable(documents.get(kind).get(name));
  }

  /** Names of a kind, in order. */
  public Collection<String> names(Kind kind) {
    return documents.get(kind).keySet();
  }

  /** The calendars, with Monday to Friday meant where none is named. */
  public Calendars calendars() {
    return calendars;
  }

  /** The calendars as a commitment's rules mean them. */
  public Calendars calendarsOf(Commitment commitment) {
    return commitment.calendar().isEmpty() ? calendars : calendars.meaning(commitment.calendar());
  }

  /** The calendars as a stream's rules mean them. */
  public Calendars calendarsOf(Stream stream) {
    return stream.calendar().isEmpty() ? calendars : calendars.meaning(stream.calendar());
  }

  /** Which rules of alerts hold for what. */
  public AlertRules alertRules() {
    AlertRules known = alertRules;
    if (known == null) {
      known = new AlertRules(this);
      alertRules = known;
    }
    return known;
  }

  /** All streams by path. */
  public Collection<Stream> streams() {
    return streams.values();
  }

  /** The stream of a path. */
  public Optional<Stream> stream(String path) {
    return Optional.ofNullable(streams.get(path));
  }

  /** The template of a name. */
  public Optional<Template> template(String name) {
    return value(Kind.TEMPLATE, name, Template.class);
  }

  /** All templates by name. */
  public Collection<Template> templates() {
    return values(Kind.TEMPLATE, Template.class).values();
  }

  /** The connection of a name, as it is meant in this environment. */
  public Optional<Connection> connection(String name) {
    return value(Kind.CONNECTION, name, Connection.class).map(one -> one.in(environment));
  }

  /** All connections by name, as they are meant in this environment. */
  public List<Connection> connections() {
    return values(Kind.CONNECTION, Connection.class).values().stream()
        .map(one -> one.in(environment))
        .toList();
  }

  /** The remote service of a name. */
  public Optional<RemoteService> remoteService(String name) {
    return value(Kind.REMOTE_SERVICE, name, RemoteService.class);
  }

  /** All remote services by name. */
  public Collection<RemoteService> remoteServices() {
    return values(Kind.REMOTE_SERVICE, RemoteService.class).values();
  }

  /** All hosts by name. */
  public Collection<HostDefinition> hosts() {
    return values(Kind.HOST, HostDefinition.class).values();
  }

  /** All host groups by name. */
  public Collection<HostGroup> hostGroups() {
    return values(Kind.HOST_GROUP, HostGroup.class).values();
  }

  /** All capacities by name, and those of connections that only so many may use at once. */
  public Collection<Capacity> capacities() {
    List<Capacity> all = new ArrayList<>(values(Kind.CAPACITY, Capacity.class).values());
    connections().stream().flatMap(one -> one.capacity().stream()).forEach(all::add);
    return all;
  }

  /** The capacity of the connection that some work goes over, where that has a limit. */
  public Optional<String> capacityOf(Work work) {
    return work.connection(service -> remoteService(service).map(RemoteService::connection))
        .flatMap(this::connection)
        .flatMap(Connection::capacity)
        .map(Capacity::name);
  }

  /** All file watches by name. */
  public Collection<FileWatch> fileWatches() {
    return values(Kind.FILE_WATCH, FileWatch.class).values();
  }

  /** The file watch of a name. */
  public Optional<FileWatch> fileWatch(String name) {
    return value(Kind.FILE_WATCH, name, FileWatch.class);
  }

  /** All commitments by name. */
  public Collection<Commitment> commitments() {
    return values(Kind.COMMITMENT, Commitment.class).values();
  }

  /** The commitment of a name. */
  public Optional<Commitment> commitment(String name) {
    return value(Kind.COMMITMENT, name, Commitment.class);
  }

  /** The recipient of a name. */
  public Optional<Recipient> recipient(String name) {
    return value(Kind.RECIPIENT, name, Recipient.class);
  }

  /** All recipients by name. */
  public Collection<Recipient> recipients() {
    return values(Kind.RECIPIENT, Recipient.class).values();
  }

  /** All duties by name. */
  public Collection<Duty> duties() {
    return values(Kind.DUTY, Duty.class).values();
  }

  /** The duty of a name. */
  public Optional<Duty> duty(String name) {
    return value(Kind.DUTY, name, Duty.class);
  }

  /** What the day rules of a duty mean. */
  public Calendars calendarsOf(Duty duty) {
    return duty.calendar().isEmpty() ? calendars() : calendars().meaning(duty.calendar());
  }

  /**
   * What whoever is called should do where a job fails: as it says itself, else as its stream does,
   * else as that does in which this is a step; empty where nobody says it.
   */
  public String whenItFails(String path) {
    String own = job(path).map(Job::whenItFails).orElse("");
    String at = streamOf(path);
    while (own.isEmpty() && !at.isEmpty()) {
      own = streamAt(at).map(Stream::whenItFails).orElse("");
      at = at.contains("/") ? streamOf(at) : "";
    }
    return own;
  }

  /** Whether somebody can be told by this name: a recipient's, or a duty's. */
  public boolean isAddressee(String name) {
    return recipient(name).isPresent() || duty(name).isPresent();
  }

  /**
   * The full path that a name in a prerequisite means.
   *
   * @param name a full path where it has a slash, else the name of a job of the same stream
   * @param withinStream the path of the stream in which it is written; empty for none
   */
  public static String resolve(String name, String withinStream) {
    return name.contains("/") ? name : withinStream + "/" + name;
  }

  /**
   * The department that a stream or step belongs to: its own, or else that of the stream that it is
   * a step of. Empty for none.
   */
  public String departmentOf(String path) {
    for (String at = path; !at.isEmpty(); ) {
      String own = streamAt(at).map(Stream::department).orElse("");
      if (!own.isEmpty()) {
        return own;
      }
      at = at.contains("/") ? streamOf(at) : "";
    }
    return "";
  }

  /** The path of the stream, or step, that a job's full path leads through last. */
  public static String streamOf(String job) {
    return job.substring(0, job.lastIndexOf('/'));
  }

  /** The job of a full path; the path may lead through a step into the stream that it runs. */
  public Optional<Job> job(String path) {
    int slash = path.lastIndexOf('/');
    return slash < 0
        ? Optional.empty()
        : streamAt(path.substring(0, slash)).flatMap(found -> found.job(path.substring(slash + 1)));
  }

  /**
   * The stream that runs under a path: one of that name, or one that a step of that path runs, as
   * that step uses it.
   */
  public Optional<Stream> streamAt(String path) {
    Optional<Stream> named = stream(path);
    int slash = path.lastIndexOf('/');
    if (named.isPresent() || slash < 0) {
      return named;
    }
    Optional<Stream> known = steps.get(path);
    if (known == null) {
      known = step(path, slash, 0);
      steps.put(path, known);
    }
    return known;
  }

  /** The stream with a name of its own that a path leads through: the outermost one. */
  public Optional<Stream> topOf(String path) {
    Optional<Stream> found = stream(path);
    for (int slash = path.lastIndexOf('/'); found.isEmpty() && slash > 0; ) {
      String outer = path.substring(0, slash);
      found = stream(outer);
      slash = outer.lastIndexOf('/');
    }
    return found;
  }

  private Optional<Stream> step(String path, int slash, int depth) {
    if (slash < 0 || depth > MAX_DEPTH) {
      return Optional.empty();
    }
    String outerPath = path.substring(0, slash);
    Optional<Stream> outer =
        stream(outerPath).or(() -> step(outerPath, outerPath.lastIndexOf('/'), depth + 1));
    return outer
        .flatMap(found -> found.job(path.substring(slash + 1)))
        .flatMap(job -> below(job, path, outer.get()));
  }

  private Optional<Stream> below(Job job, String path, Stream outer) {
    if (job.work() instanceof OfStream inner) {
      return stream(inner.stream()).map(found -> found.asStep(path, outer));
    }
    return job.work() instanceof Parts parts
        ? Optional.of(outer.ofParts(path, job, parts, partsOf(job, parts)))
        : Optional.empty();
  }

  /** The parts of a job: one for each defined host of its group, or so many as are asked for. */
  private List<Job> partsOf(Job job, Parts parts) {
    if (job.placement() instanceof Placement.SomeOf some) {
      return IntStream.rangeClosed(1, some.count())
          .mapToObj(n -> job.part("part-" + n, new Placement.Another(some.group()), parts.line()))
          .toList();
    }
    return membersOf(job.placement().ofGroup().orElse("")).stream()
        .map(host -> job.part(host, new Placement.OnHost(host), parts.line()))
        .toList();
  }

  /** Names of the defined hosts of a group, in order; none where there is no such group. */
  public List<String> membersOf(String group) {
    return value(Kind.HOST_GROUP, group, HostGroup.class)
        .map(found -> found.members(hosts()))
        .orElse(List.of());
  }

  /** The levels of values below those of a stream itself, for its department. */
  public Parameters levels(String department) {
    Parameters levels = Parameters.NONE;
    levels = levels.with(Parameters.Origin.SITE, level(Level.SITE));
    levels = levels.with(Parameters.Origin.ENVIRONMENT, level(Level.environment(environment)));
    return levels.with(Parameters.Origin.DEPARTMENT, level(Level.department(department)));
  }

  private Given level(String of) {
    return value(Kind.PARAMETERS, of, Level.class).map(Level::values).orElse(Given.NONE);
  }

  /**
   * The names that have a value in every start of a stream: of all levels, of every entry of its
   * schedule, of what it asks for, and of the files that start it.
   *
   * @param job with those of one of its jobs; empty for the stream alone
   */
  public Set<String> parameterNames(Stream stream, Optional<Job> job) {
    Set<String> names = new TreeSet<>();
    List<Schedule> entries = stream.schedule();
    entries.forEach(entry -> names.addAll(entry.parameters().keySet()));
    entries.forEach(entry -> names.retainAll(entry.parameters().keySet()));
    names.addAll(levels(stream.department()).names());
    names.addAll(stream.parameters().names());
    names.addAll(stream.asksFor());
    stream.startsOn().ifPresent(any -> names.addAll(StartsOn.PARAMETERS));
    job.ifPresent(found -> names.addAll(found.parameters().names()));
    return names;
  }

  private <T> Optional<T> value(Kind kind, String name, Class<T> type) {
    return document(kind, name).map(Document::value).map(type::cast);
  }

  private <T> Map<String, T> values(Kind kind, Class<T> type) {
    Map<String, T> all = new LinkedHashMap<>(); // in the order of the names, and found at once
    documents.get(kind).forEach((name, document) -> all.put(name, type.cast(document.value())));
    return all;
  }
}
