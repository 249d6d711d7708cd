package dev.purser.core.reading;

import dev.purser.core.definition.Document;
import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.problem.Nearest;
import dev.purser.core.remote.Operation;
import dev.purser.core.remote.RemoteService;
import dev.purser.core.remote.Request;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.nodes.Node;

/** Reads remote services. */
final class RemoteServiceReader {
  private static final Pattern REQUEST =
      Pattern.compile("(GET|POST|PUT|PATCH|DELETE) (/(?:[^\\s$]|\\$\\{[^}]{0,200}}|\\$)*+)");
  private static final Pattern POINTER = Pattern.compile("(/([^~/]|~[01])*)*");
  private static final Pattern PARAMETER = Pattern.compile("[A-Za-z0-9._-]{1,100}");
  private static final Pattern HEADER = Pattern.compile("[A-Za-z0-9-]{1,100}");

  /** Headers that say how the request is sent, or who sends it: those are the connection's. */
  private static final Set<String> NOT_OURS =
      Set.of(
          "authorization",
          "proxy-authorization",
          "cookie",
          "host",
          "content-length",
          "transfer-encoding",
          "connection",
          "expect",
          "upgrade");

  private static final Keys REQUEST_KEYS =
      new Keys()
          .must("request", Keys.Form.TEXT, "Method and path, such as GET /filings/${remote.id}.")
          .may("query", Keys.Form.TEXTS, "Further values of the address, by name.")
          .may("headers", Keys.Form.TEXTS, "Headers by name.")
          .may("json", Keys.Form.TREE, "What is sent, as JSON; { as-number: TEXT } is a number.")
          .may("form", Keys.Form.TEXTS, "Or what is sent, as a form.")
          .may("text", Keys.Form.TEXT, "Or what is sent, as plain text.");

  private static final Keys START =
      new Keys()
          .with(REQUEST_KEYS)
          .must("id", Keys.Form.TEXT, "Where the answer has the id: a JSON Pointer, /filing/id.")
          .may("link", Keys.Form.TEXT, "Where it has an address that people can open.")
          .may(
              "key-header",
              Keys.Form.TEXT,
              "The header by which the service knows a request that is sent again.");

  private static final Keys LOOK =
      new Keys()
          .with(REQUEST_KEYS)
          .must("state", Keys.Form.TEXT, "Where the answer has the word for the state.")
          .must("running", Keys.Form.NAMES, "The words that mean: not over yet.")
          .must("succeeded", Keys.Form.NAMES, "The words that mean: ended well.")
          .must("failed", Keys.Form.NAMES, "The words that mean: ended badly.")
          .may("cancelled", Keys.Form.NAMES, "The words that mean: cancelled.")
          .may("error", Keys.Form.TEXT, "Where the answer says what went wrong.")
          .may("progress", Keys.Form.TEXT, "Where it says how far it is, in percent or in words.")
          .may("link", Keys.Form.TEXT, "Where it has an address that people can open.")
          .may("values", Keys.Form.TEXTS, "Values that the run hands back, and where they are.");

  private static final Keys RECENT =
      new Keys()
          .with(REQUEST_KEYS)
          .may("items", Keys.Form.TEXT, "Where the answer has the list; the whole answer.")
          .must("id", Keys.Form.TEXT, "Where an item has its id.")
          .must("state", Keys.Form.TEXT, "Where an item has the word for its state.")
          .may("started", Keys.Form.TEXT, "Where it has the instant of its start, ISO 8601.")
          .may("key", Keys.Form.TEXT, "Where it has the key (${remote.key}) of its start.");

  private static final Keys OPERATION =
      new Keys()
          .may("title", Keys.Form.TEXT, "For people.")
          .must("start", Keys.Form.ENTRY, "How it is begun.", START)
          .must("look", Keys.Form.ENTRY, "How it is looked at.", LOOK)
          .may("stop", Keys.Form.ENTRY, "How it is stopped.", REQUEST_KEYS)
          .may("log", Keys.Form.ENTRY, "How what it has written is read.", REQUEST_KEYS)
          .may("recent", Keys.Form.ENTRY, "How what was begun lately is listed.", RECENT);

  static final Keys KEYS =
      new Keys()
          .must("remote-service", Keys.Form.NAME, "The service's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("about", Keys.Form.TEXT, "What it is.")
          .must("connection", Keys.Form.NAME, "The connection by which it is reached.")
          .must("operations", Keys.Form.ENTRIES, "What it can be asked for, by name.", OPERATION);

  private final Page page;
  private final Mentions mentions;

  RemoteServiceReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  RemoteService read(String name, Fields fields) {
    String connection = fields.name("connection");
    mentions.add(fields, "connection", Document.What.CONNECTION, connection, "", name);
    Map<String, Operation> operations = new LinkedHashMap<>();
    for (Fields.Entry entry : fields.entries("operations")) {
      if (!Fields.isName(entry.name())) {
        page.error(
            entry.key(),
            "\""
                + entry.name()
                + "\" is not a valid name for an operation; expected lower-case letters, digits and"
                + " dashes");
      }
      operations.put(entry.name(), operation(entry));
    }
    if (fields.has("operations") && operations.isEmpty()) {
      page.error(fields.at("operations"), "a remote service needs at least one operation");
    }
    return new RemoteService(
        name, fields.text("title", name), fields.text("about", ""), connection, operations);
  }

  private Operation operation(Fields.Entry entry) {
    Fields fields =
        new Fields(page, entry.value(), OPERATION, "operation \"" + entry.name() + "\"");
    Fields start = below(fields, "start", START);
    Fields look = below(fields, "look", LOOK);
    String header = start.text("key-header", "");
    if (!header.isEmpty() && !HEADER.matcher(header).matches()) {
      page.error(start.at("key-header"), "\"" + header + "\" is not a valid name of a header");
    }
    return new Operation(
        entry.name(),
        fields.text("title", entry.name()),
        new Operation.Start(
            request(start, Set.of(Operation.KEY)),
            pointer(start, "id"),
            pointer(start, "link"),
            header),
        new Operation.Look(
            request(look, Set.of(Operation.ID)),
            pointer(look, "state"),
            words(look),
            pointer(look, "error"),
            pointer(look, "progress"),
            pointer(look, "link"),
            values(look)),
        optional(fields, "stop"),
        optional(fields, "log"),
        fields.has("recent") ? Optional.of(recent(fields)) : Optional.empty());
  }

  private Operation.Recent recent(Fields fields) {
    Fields recent = below(fields, "recent", RECENT);
    return new Operation.Recent(
        request(recent, Set.of(Operation.FROM, Operation.KEY)),
        pointer(recent, "items"),
        pointer(recent, "id"),
        pointer(recent, "state"),
        pointer(recent, "started"),
        pointer(recent, "key"));
  }

  private Optional<Request> optional(Fields fields, String key) {
    return fields.has(key)
        ? Optional.of(request(below(fields, key, REQUEST_KEYS), Set.of(Operation.ID)))
        : Optional.empty();
  }

  private Fields below(Fields fields, String key, Keys keys) {
    return fields.has(key)
        ? new Fields(page, fields.at(key), keys, "\"" + key + "\"")
        : new Fields(page, null, keys, "\"" + key + "\"");
  }

  private String pointer(Fields fields, String key) {
    String text = fields.text(key, "");
    if (!POINTER.matcher(text).matches()) {
      page.error(
          fields.at(key),
          "\"" + text + "\" is not a place in JSON; expected a JSON Pointer such as /filing/id");
    }
    return text;
  }

  private Map<String, Operation.Meaning> words(Fields look) {
    Map<String, Operation.Meaning> words = new LinkedHashMap<>();
    Map<Operation.Meaning, String> keys = new EnumMap<>(Operation.Meaning.class);
    for (Operation.Meaning meaning : Operation.Meaning.values()) {
      keys.put(meaning, meaning.name().toLowerCase(Locale.ROOT));
    }
    keys.forEach(
        (meaning, key) -> {
          for (Fields.Item item : look.items(key)) {
            Operation.Meaning before =
                words.putIfAbsent(item.text().toLowerCase(Locale.ROOT), meaning);
            if (before != null) {
              page.error(
                  item.node(),
                  "\"" + item.text() + "\" means \"" + keys.get(before) + "\" already");
            }
          }
        });
    return words;
  }

  private Map<String, String> values(Fields look) {
    Map<String, String> values = look.texts("values");
    values.forEach(
        (name, place) -> {
          if (!Fields.isName(name) || !POINTER.matcher(place).matches() || place.isEmpty()) {
            page.error(
                look.at("values"),
                "cannot use \""
                    + name
                    + ": "
                    + place
                    + "\"; expected a name and a JSON Pointer, such as receipt: /receipt/number");
          }
        });
    return values;
  }

  // ---- requests

  /**
   * A request.
   *
   * @param may what it may ask for that no run gives
   */
  private Request request(Fields fields, Set<String> may) {
    String line = fields.text("request", "");
    Matcher matcher = REQUEST.matcher(line);
    boolean sound = matcher.matches();
    if (!sound && !line.isEmpty()) {
      page.error(
          fields.at("request"),
          "cannot read the request \""
              + line
              + "\"; expected GET, POST, PUT, PATCH or DELETE and a path, as in POST /filings");
    }
    Map<String, String> headers = fields.texts("headers");
    headers.forEach((name, value) -> header(fields, name, value));
    Request request =
        new Request(
            sound ? matcher.group(1) : "GET",
            sound ? matcher.group(2) : "/",
            fields.texts("query"),
            headers,
            body(fields));
    if (request.method().equals("GET") && !(request.body() instanceof Request.None)) {
      page.error(fields.at("request"), "a GET sends nothing; leave json, form and text out");
    }
    request.texts().forEach(text -> placeholders(fields, text, may));
    return request;
  }

  private void header(Fields fields, String name, String value) {
    if (!HEADER.matcher(name).matches() || value.chars().anyMatch(Character::isISOControl)) {
      page.error(fields.at("headers"), "\"" + name + "\" is not a valid header");
    } else if (NOT_OURS.contains(name.toLowerCase(Locale.ROOT))) {
      page.error(
          fields.at("headers"),
          "the header \"" + name + "\" is not set here; signing in is the connection's");
    }
  }

  private void placeholders(Fields fields, String text, Set<String> may) {
    try {
      PlaceholderText.Asked asked = PlaceholderText.asked(text);
      if (!asked.handedBack().isEmpty()) {
        page.error(
            fields.at("request"),
            "a remote service cannot ask for the value of a job; let the job give it as one of its"
                + " \"parameters\"");
      }
      for (String name : asked.parameters()) {
        if (name.startsWith("remote.") && !may.contains(name)) {
          page.error(
              fields.at("request"), "${" + name + "} is not known here" + Nearest.hint(name, may));
        } else if (!PARAMETER.matcher(name).matches()) {
          page.error(
              fields.at("request"),
              "cannot read ${" + name + "}: it is neither a parameter nor a date");
        }
      }
    } catch (PlaceholderText.PlaceholderException e) {
      page.error(fields.at("request"), e.getMessage());
    }
  }

  private Request.Body body(Fields fields) {
    List<String> given = List.of("json", "form", "text").stream().filter(fields::has).toList();
    if (given.size() > 1) {
      page.error(fields.at(given.get(1)), "a request sends one of json, form and text");
    }
    if (fields.has("json")) {
      return new Request.Json(json(fields.at("json")));
    }
    if (fields.has("form")) {
      return new Request.Form(fields.texts("form"));
    }
    return fields.has("text") ? new Request.Text(fields.text("text", "")) : new Request.None();
  }

  private Object json(Node node) {
    try {
      return JsonTree.of(node);
    } catch (IllegalArgumentException e) {
      page.error(node, e.getMessage());
      return "";
    }
  }
}
