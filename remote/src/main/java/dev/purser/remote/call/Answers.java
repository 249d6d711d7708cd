package dev.purser.remote.call;

import dev.purser.core.pursuit.Heard;
import dev.purser.core.remote.Operation;
import dev.purser.remote.http.Reply;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonPointer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What the answers of a service mean, by the description of an operation. */
final class Answers {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int LONGEST_ID = 200;
  private static final int LONGEST_TEXT = 1_000;
  private static final int LONGEST_VALUE = 4_000;
  private static final int LONGEST_WORD = 100;

  private final Operation operation;
  private final String service;

  Answers(String service, Operation operation) {
    this.service = service;
    this.operation = operation;
  }

  // ---- to being asked to begin

  Heard toStart(Reply reply) {
    if (!(reply instanceof Reply.Answered answered)) {
      return reply instanceof Reply.NoAnswer none ? new Heard.Unclear(none.why()) : notSent(reply);
    }
    if (answered.isGood()) {
      return begun(answered);
    }
    return switch (answered.code()) {
      case 429 -> new Heard.Away(said(answered), answered.comeBackAfter());
      case 404 -> new Heard.NoSuchThing(said(answered));
      case 408 -> new Heard.Unclear(said(answered));
      case 503 ->
          answered.comeBackAfter().isPresent()
              ? new Heard.Away(said(answered), answered.comeBackAfter())
              : new Heard.Unclear(said(answered));
      default ->
          answered.code() / 100 == 5
              ? new Heard.Unclear(said(answered))
              : new Heard.Refused(said(answered));
    };
  }

  private Heard begun(Reply.Answered answered) {
    Optional<JsonNode> json = json(answered);
    String id = json.map(tree -> text(tree, operation.start().id(), LONGEST_ID + 1)).orElse("");
    if (json.isEmpty()) {
      return new Heard.Unclear(service + " answered " + answered.code() + notJson(answered));
    }
    if (id.isBlank() || id.length() > LONGEST_ID || id.chars().anyMatch(Character::isISOControl)) {
      return new Heard.Unclear(
          service
              + " answered "
              + answered.code()
              + " without an id at "
              + operation.start().id()
              + beginning(answered));
    }
    return new Heard.Begun(id, text(json.get(), operation.start().link(), LONGEST_TEXT));
  }

  private static Heard notSent(Reply reply) {
    return reply instanceof Reply.NotAllowed
        ? new Heard.NotAsked(reply.why())
        : new Heard.Away(reply.why(), Optional.empty());
  }

  // ---- to being looked at

  Heard toLook(Reply reply) {
    if (!(reply instanceof Reply.Answered answered)) {
      return away(reply);
    }
    if (answered.code() == 404 || answered.code() == 410) {
      return new Heard.NoSuchThing(said(answered));
    }
    if (!answered.isGood()) {
      return new Heard.Away(said(answered), answered.comeBackAfter());
    }
    Optional<JsonNode> json = json(answered);
    if (json.isEmpty()) {
      return new Heard.Away(
          service + " answered " + answered.code() + notJson(answered), Optional.empty());
    }
    Operation.Look look = operation.look();
    String word = text(json.get(), look.state(), LONGEST_WORD);
    if (word.isEmpty()) {
      return new Heard.Away(
          service + " answered without a state at " + look.state() + beginning(answered),
          Optional.empty());
    }
    Map<String, String> values = new LinkedHashMap<>();
    look.values()
        .forEach(
            (name, place) -> {
              String value = text(json.get(), place, LONGEST_VALUE);
              if (!value.isEmpty()) {
                values.put(name, value);
              }
            });
    return new Heard.Seen(
        word,
        text(json.get(), look.error(), LONGEST_TEXT),
        text(json.get(), look.progress(), LONGEST_WORD),
        text(json.get(), look.link(), LONGEST_TEXT),
        values);
  }

  private static Heard away(Reply reply) {
    return new Heard.Away(reply.why(), Optional.empty());
  }

  // ---- to being asked for a list

  Heard toList(Reply reply, Operation.Recent recent) {
    if (!(reply instanceof Reply.Answered answered)) {
      return away(reply);
    }
    if (answered.code() == 404) {
      return new Heard.NoSuchThing(said(answered));
    }
    Optional<JsonNode> json = answered.isGood() ? json(answered) : Optional.empty();
    JsonNode list = json.map(tree -> at(tree, recent.items())).orElse(JSON.missingNode());
    if (!list.isArray()) {
      String why =
          !answered.isGood()
              ? said(answered)
              : !answered.whole()
                  ? service + " answered with a list that is too long to be read"
                  : service + " answered " + answered.code() + ", but with no list";
      return new Heard.Away(why, answered.comeBackAfter());
    }
    List<Heard.Item> items = new ArrayList<>();
    for (JsonNode one : list) {
      String id = text(one, recent.id(), LONGEST_ID);
      if (!id.isBlank()) {
        items.add(
            new Heard.Item(
                id,
                text(one, recent.state(), LONGEST_WORD),
                instant(text(one, recent.started(), LONGEST_WORD)),
                text(one, recent.key(), LONGEST_ID)));
      }
    }
    Comparator<Heard.Item> newest =
        Comparator.comparing(item -> item.started().orElse(Instant.MIN), Comparator.reverseOrder());
    return new Heard.Listed(items.stream().sorted(newest).toList());
  }

  private static Optional<Instant> instant(String text) {
    try {
      return text.isEmpty()
          ? Optional.empty()
          : Optional.of(OffsetDateTime.parse(text).toInstant());
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  // ---- to being told to stop

  /** What is over, or gone, need not be stopped: the next look says how it ended. */
  Heard toStop(Reply reply) {
    if (!(reply instanceof Reply.Answered answered)) {
      return away(reply);
    }
    boolean over = List.of(404, 409, 410).contains(answered.code());
    return answered.isGood() || over
        ? new Heard.ToldToStop()
        : new Heard.Away(said(answered), answered.comeBackAfter());
  }

  // ---- reading

  private static Optional<JsonNode> json(Reply.Answered answered) {
    try {
      JsonNode tree = answered.whole() ? JSON.readTree(answered.body()) : JSON.missingNode();
      return tree.isMissingNode() ? Optional.empty() : Optional.of(tree);
    } catch (JacksonException e) {
      return Optional.empty();
    }
  }

  private static JsonNode at(JsonNode tree, String pointer) {
    return tree.at(JsonPointer.compile(pointer));
  }

  /** A text, number or truth value at a place; empty where there is none. */
  private static String text(JsonNode tree, String pointer, int longest) {
    JsonNode found = pointer.isEmpty() ? JSON.missingNode() : at(tree, pointer);
    String text = found.isValueNode() && !found.isNull() ? found.asString() : "";
    String clean = text.strip().replaceAll("[\\p{Cntrl}&&[^\n\t]]", " ");
    return clean.length() > longest ? clean.substring(0, longest - 1) + "…" : clean;
  }

  /** What it answered, for people: its own error where it has one, else the beginning. */
  private String said(Reply.Answered answered) {
    String code = service + " answered " + answered.code();
    if (answered.code() / 100 == 3) {
      return code + "; redirects are not followed: name the new address in its connection";
    }
    String own =
        json(answered)
            .map(
                tree ->
                    Stream.of(operation.look().error(), "/detail", "/message", "/error")
                        .filter(place -> !place.isEmpty())
                        .map(place -> text(tree, place, LONGEST_TEXT))
                        .filter(text -> !text.isEmpty())
                        .findFirst()
                        .orElse(""))
            .orElse("");
    return code + (own.isEmpty() ? beginning(answered) : ": " + own);
  }

  private static String notJson(Reply.Answered answered) {
    return answered.whole()
        ? ", but not with JSON" + beginning(answered)
        : ", but with more than can be read";
  }

  private static String beginning(Reply.Answered answered) {
    String text = answered.body().strip().replaceAll("\\s+", " ");
    String begins = text.length() > 100 ? text.substring(0, 100) + "…" : text;
    return begins.isEmpty() ? "" : ": " + begins;
  }
}
