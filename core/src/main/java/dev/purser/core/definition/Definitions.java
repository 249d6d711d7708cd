package dev.purser.core.definition;

import dev.purser.core.calendar.BusinessCalendar;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.HolidayCalendar;
import dev.purser.core.calendar.NamedPeriod;
import java.util.Collection;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Everything that is defined, by kind and name: an immutable catalogue. */
public final class Definitions {
  private final Map<Kind, Map<String, Document>> documents;
  private final Calendars calendars;

  private Definitions(Map<Kind, Map<String, Document>> documents) {
    this.documents = documents;
    this.calendars =
        new Calendars(
            values(Kind.HOLIDAY_CALENDAR, HolidayCalendar.class),
            values(Kind.BUSINESS_CALENDAR, BusinessCalendar.class),
            values(Kind.PERIOD, NamedPeriod.class));
  }

  /** A catalogue of nothing. */
  public static Definitions none() {
    return of(java.util.List.of());
  }

  /** A catalogue of the given documents; a later one of the same kind and name wins. */
  public static Definitions of(Collection<Document> documents) {
    Map<Kind, Map<String, Document>> all = new TreeMap<>();
    for (Kind kind : Kind.values()) {
      all.put(kind, new TreeMap<>());
    }
    documents.forEach(document -> all.get(document.kind()).put(document.name(), document));
    return new Definitions(all);
  }

  /** This catalogue with the documents added, each in place of one of the same kind and name. */
  public Definitions with(Collection<Document> more) {
    java.util.List<Document> all = new java.util.ArrayList<>(documents());
    all.addAll(more);
    return of(all);
  }

  /** This catalogue without one document. */
  public Definitions without(Kind kind, String name) {
    return of(
        documents().stream()
            .filter(document -> document.kind() != kind || !document.name().equals(name))
            .toList());
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

  /** The calendars as a stream's rules mean them. */
  public Calendars calendarsOf(Stream stream) {
    return stream.calendar().isEmpty() ? calendars : calendars.meaning(stream.calendar());
  }

  /** All streams by path. */
  public Collection<Stream> streams() {
    return values(Kind.STREAM, Stream.class).values();
  }

  /** The stream of a path. */
  public Optional<Stream> stream(String path) {
    return value(Kind.STREAM, path, Stream.class);
  }

  /** The connection of a name. */
  public Optional<Connection> connection(String name) {
    return value(Kind.CONNECTION, name, Connection.class);
  }

  /** All hosts by name. */
  public Collection<HostDefinition> hosts() {
    return values(Kind.HOST, HostDefinition.class).values();
  }

  /** All host groups by name. */
  public Collection<HostGroup> hostGroups() {
    return values(Kind.HOST_GROUP, HostGroup.class).values();
  }

  /** All capacities by name. */
  public Collection<Capacity> capacities() {
    return values(Kind.CAPACITY, Capacity.class).values();
  }

  /** All file watches by name. */
  public Collection<FileWatch> fileWatches() {
    return values(Kind.FILE_WATCH, FileWatch.class).values();
  }

  /** The file watch of a name. */
  public Optional<FileWatch> fileWatch(String name) {
    return value(Kind.FILE_WATCH, name, FileWatch.class);
  }

  /** The recipient of a name. */
  public Optional<Recipient> recipient(String name) {
    return value(Kind.RECIPIENT, name, Recipient.class);
  }

  /** The full path that a name in a prerequisite means: a sibling's where it has no slash. */
  public static String resolve(String name, String withinStream) {
    return name.contains("/") ? name : withinStream + "/" + name;
  }

  /** The job of a full path. */
  public Optional<Job> job(String path) {
    int slash = path.lastIndexOf('/');
    return slash < 0
        ? Optional.empty()
        : stream(path.substring(0, slash)).flatMap(found -> found.job(path.substring(slash + 1)));
  }

  private <T> Optional<T> value(Kind kind, String name, Class<T> type) {
    return document(kind, name).map(Document::value).map(type::cast);
  }

  private <T> Map<String, T> values(Kind kind, Class<T> type) {
    Map<String, T> all = new TreeMap<>();
    documents.get(kind).forEach((name, document) -> all.put(name, type.cast(document.value())));
    return all;
  }
}
