package dev.purser.service.neighbour;

import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.definition.Stream;
import dev.purser.core.neighbour.Side;
import dev.purser.core.parcel.Packing;
import dev.purser.core.problem.Shorten;
import dev.purser.remote.http.Outgoing;
import dev.purser.remote.http.Reply;
import dev.purser.remote.http.Site;
import dev.purser.remote.http.Web;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** The API of another environment, as whoever its token stands for. All that it says is checked. */
final class Peer {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int PAGE = 1_000;
  private static final int MOST_BYTES = 64_000_000;
  private static final int MOST_DEFINITIONS = 200_000;
  private static final int MOST_LETTERS = 100;
  private static final int MOST_ITEMS = 200;
  private static final int MOST_NAMED = 2_000;
  private static final int FORBIDDEN = 403;
  private static final int UNAUTHORIZED = 401;
  private static final int ABSENT = 404;

  private final String name;
  private final Site site;
  private final Web web;

  Peer(String name, Site site, Web web) {
    this.name = name;
    this.site = site;
    this.web = web;
  }

  /** What it says of itself. */
  record Told(String environment, long revision, String console, List<OnItsWay.Item> onItsWay) {}

  private record Made(String by) {}

  private record Definition(
      String kind,
      String name,
      String text,
      long revision,
      Instant published,
      String publishedBy,
      String department,
      Made made,
      String origin) {}

  /**
   * A definition that is in force there.
   *
   * @param side its text has the names that things have there
   */
  record InForce(Side side, String department) {}

  private record Packed(String parcel) {}

  private record Wanted(
      List<String> streams, List<String> others, boolean withNeeds, boolean signed) {}

  private record Refusal(String detail) {}

  /**
   * Asks what it says of itself.
   *
   * @throws Neighbours.Away where it does not answer, or is something else
   */
  Told told() {
    Told told = read(Outgoing.get("/api/v1/environment"), Told.class);
    if (told.environment() == null || told.onItsWay() == null) {
      throw new Neighbours.Away(name + " does not answer as a service of Purser does");
    }
    boolean isAddress = text(told.console()).matches("https?://[!-~]{1,500}");
    return new Told(
        Shorten.text(told.environment(), MOST_LETTERS),
        told.revision(),
        isAddress ? told.console() : "", // it becomes a link
        told.onItsWay().stream().limit(MOST_ITEMS).map(Peer::item).toList());
  }

  private static OnItsWay.Item item(OnItsWay.Item told) {
    List<String> definitions = told.definitions() == null ? List.of() : told.definitions();
    return new OnItsWay.Item(
        Shorten.text(text(told.what()), MOST_LETTERS),
        Shorten.text(text(told.title()), 3 * MOST_LETTERS),
        Shorten.text(text(told.who()), MOST_LETTERS),
        told.liveFrom(),
        definitions.stream().map(Peer::text).limit(MOST_NAMED).toList());
  }

  /**
   * All that a parcel could carry from there; what a row of a table made is in its table.
   *
   * @throws Neighbours.Away as {@link #told}
   */
  Map<Named, InForce> definitions() {
    Map<Named, InForce> found = new LinkedHashMap<>();
    int read = 0;
    String after = "";
    Definition[] page;
    do {
      page = read(Outgoing.get("/api/v1/definitions?limit=" + PAGE + after), Definition[].class);
      for (Definition one : page) {
        Optional<Kind> kind = Kind.of(String.valueOf(one.kind()));
        if (kind.isPresent() && isCarried(kind.get(), one)) {
          found.put(
              new Named(kind.get(), one.name()),
              new InForce(
                  new Side(
                      one.text(),
                      one.revision(),
                      one.published(),
                      Shorten.text(text(one.publishedBy()), MOST_LETTERS),
                      text(one.origin())),
                  text(one.department())));
        }
      }
      read += page.length;
      if (read > MOST_DEFINITIONS) {
        throw new Neighbours.Away(
            name + " has more than " + MOST_DEFINITIONS + " definitions: too many to compare");
      }
      if (page.length > 0) {
        Definition last = page[page.length - 1];
        after =
            "&after="
                + URLEncoder.encode(
                    read + "." + last.kind() + " " + last.name(), StandardCharsets.UTF_8);
      }
    } while (page.length == PAGE);
    return found;
  }

  private static boolean isCarried(Kind kind, Definition one) {
    return Packing.carries(kind)
        && one.name() != null
        && one.text() != null
        && !Stream.isTrial(one.name())
        && (one.made() == null || text(one.made().by()).isEmpty());
  }

  private static String text(String text) {
    return text == null ? "" : text;
  }

  /**
   * Has it pack a parcel.
   *
   * @throws Neighbours.Away as {@link #told}, or with why it refused
   */
  byte[] parcel(List<Named> wanted, boolean withNeeds, boolean signed) {
    Wanted asked =
        new Wanted(
            wanted.stream().filter(one -> one.kind() == Kind.STREAM).map(Named::name).toList(),
            wanted.stream().filter(one -> one.kind() != Kind.STREAM).map(Named::toString).toList(),
            withNeeds,
            signed);
    Packed packed =
        read(
            new Outgoing(
                "POST",
                "/api/v1/parcels/packed",
                Map.of(),
                "application/json",
                JSON.writeValueAsString(asked)),
            Packed.class);
    try {
      return Base64.getDecoder().decode(text(packed.parcel()));
    } catch (IllegalArgumentException e) {
      throw new Neighbours.Away(name + " sent something that is not a parcel");
    }
  }

  private <T> T read(Outgoing request, Class<T> as) {
    Reply reply = web.send(site, request, MOST_BYTES).join();
    if (!(reply instanceof Reply.Answered answered)) {
      throw new Neighbours.Away(name + " does not answer: " + reply.why());
    }
    if (!answered.isGood()) {
      throw new Neighbours.Away(name + refusal(request, answered));
    }
    if (!answered.whole()) {
      throw new Neighbours.Away(
          name + " answers with more than " + MOST_BYTES / 1_000_000 + " MB at once");
    }
    try {
      T found = JSON.readValue(answered.body(), as);
      if (found != null) {
        return found;
      }
    } catch (JacksonException e) {
      // told below: it is no service of ours, whatever it says
    }
    throw new Neighbours.Away(name + " does not answer as a service of Purser does");
  }

  private static String refusal(Outgoing request, Reply.Answered answered) {
    return switch (answered.code()) {
      case UNAUTHORIZED ->
          " does not let us in: the token of its connection is not good there (any more)";
      case FORBIDDEN -> " does not allow that to the person whose token it is";
      case ABSENT ->
          " has no "
              + request.path().replaceAll("\\?.*", "")
              + ": is it a service of Purser, as new"
              + " as this one?";
      default -> " refused: " + detail(answered);
    };
  }

  private static String detail(Reply.Answered answered) {
    try {
      String detail = text(JSON.readValue(answered.body(), Refusal.class).detail());
      return detail.isEmpty() ? "HTTP " + answered.code() : Shorten.text(detail, 500);
    } catch (JacksonException e) {
      return "HTTP " + answered.code();
    }
  }
}
