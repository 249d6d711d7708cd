package dev.purser.core.remote;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * One thing that a remote service can be asked for. Where a place in an answer is meant, it is a
 * JSON Pointer (RFC 6901), such as {@code /filing/id}; empty where there is none.
 *
 * @param name within its service
 * @param title for people
 * @param start how it is begun
 * @param look how it is looked at
 * @param stop how it is stopped; empty where it cannot be
 * @param log how what it has written is read; empty where it cannot be
 * @param recent how what was begun lately is listed; empty where it cannot be
 */
public record Operation(
    String name,
    String title,
    Start start,
    Look look,
    Optional<Request> stop,
    Optional<Request> log,
    Optional<Recent> recent) {
  /** The placeholder that means the remote's own id. */
  public static final String ID = "remote.id";

  /** The placeholder that means the key by which a start is known again. */
  public static final String KEY = "remote.key";

  /** The placeholder that means the instant from which recent runs are asked for, ISO 8601. */
  public static final String FROM = "remote.from";

  /** Those that the service fills in, not the run. */
  public static final Set<String> OWN = Set.of(ID, KEY, FROM);

  /**
   * How it is begun.
   *
   * @param id where the answer has the remote's id
   * @param link where the answer has an address that people can open
   * @param keyHeader the header in which the service takes a key, by which it knows a request that
   *     is sent again and does not begin a second time; empty where it knows none
   */
  public record Start(Request request, String id, String link, String keyHeader) {}

  /**
   * How it is looked at.
   *
   * @param state where the answer has the word for its state
   * @param words what the words mean, in lower case
   * @param error where the answer says what went wrong
   * @param progress where the answer says how far it is, in percent or in words
   * @param link where the answer has an address that people can open
   * @param values places of values that the run hands back, by their names
   */
  public record Look(
      Request request,
      String state,
      Map<String, Meaning> words,
      String error,
      String progress,
      String link,
      Map<String, String> values) {}

  /**
   * How what was begun lately is listed.
   *
   * @param items where the answer has the list
   * @param id where an item has its id
   * @param state where an item has the word for its state
   * @param started where an item has the instant at which it began, ISO 8601 with offset
   * @param key where an item has the key with which it was begun; empty where it does not say
   */
  public record Recent(
      Request request, String items, String id, String state, String started, String key) {}

  /** What a word for a state means. */
  public enum Meaning {
    RUNNING,
    SUCCEEDED,
    FAILED,
    CANCELLED
  }

  /** How far something is, for people: a plain number is percent. */
  public static String far(String progress) {
    return progress.matches("\\d{1,3}(\\.\\d+)?") ? progress + " %" : progress;
  }

  /**
   * The requests that a call may send.
   *
   * @param call what is done; what is only followed is not begun
   */
  public List<Request> requests(Call call) {
    List<Request> all = new ArrayList<>();
    if (!call.follows()) {
      all.add(start.request());
    }
    if (!call.follows() || call.id().isEmpty()) {
      recent.map(Recent::request).ifPresent(all::add);
    }
    all.add(look.request());
    stop.ifPresent(all::add);
    log.ifPresent(all::add);
    return all;
  }

  /** What those requests ask the run for, each as it stands in braces, in order. */
  public Set<String> asked(Call call) {
    Set<String> asked = new LinkedHashSet<>();
    requests(call).forEach(request -> asked.addAll(request.inBraces()));
    asked.removeAll(OWN);
    return asked;
  }
}
