package dev.purser.core.reading;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.ConnectionKind;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.SignInWay;
import dev.purser.core.problem.Nearest;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** Reads connections. */
final class ConnectionReader {
  private static final String HTTP = "https?://[^\\s/?#@]+([/?][^\\s#]*)?";
  private static final String SMTP = "smtps?://[^\\s/?#@]+";
  private static final String SFTP = "sftp://[^\\s/?#@]+(/[^\\s#]*)?";

  /** No parameters after it: some of them make a driver load classes or read files. */
  private static final String JDBC =
      "jdbc:(mariadb|postgresql)://[A-Za-z0-9.-]+(:\\d{1,5})?(/[A-Za-z0-9_.-]*)?";

  /** Of other drivers: what may stand there an administrator says, address by address. */
  private static final String OTHER_JDBC =
      "jdbc:(?!mariadb:|mysql:|postgresql:)[a-z][a-z0-9]*:\\S{1,500}";

  private static final String ANY =
      "http://HOST, https://HOST, sftp://HOST or jdbc:mariadb://HOST/NAME";

  static final Keys KEYS =
      new Keys()
          .must("connection", Keys.Form.NAME, "The connection's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may(
              "kind",
              Keys.Form.TEXT,
              "http, database, sftp, object-store, cluster or mail; by default, as it is used.")
          .must(
              "address",
              Keys.Form.TEXT,
              "An http, https or sftp address, or jdbc:mariadb://... of a database.")
          .may("address-in", Keys.Form.TEXTS, "Other addresses by environment: test: https://...")
          .may("user", Keys.Form.TEXT, "Who signs in: a user, a client's id, an access key's id.")
          .may("secret", Keys.Form.NAME, "A secret that the service keeps (purser secrets set).")
          .may("secret-file", Keys.Form.TEXT, "Or a file of the service's host that holds it.")
          .may("secret-environment", Keys.Form.TEXT, "Or the variable of the service that does.")
          .may(
              "sign-in",
              Keys.Form.TEXT,
              "none, basic, bearer, header, oauth2 or certificate; basic where user and secret are"
                  + " given, bearer for a cluster.")
          .may("header", Keys.Form.TEXT, "With sign-in: header, its name, such as X-Api-Key.")
          .may("token-address", Keys.Form.TEXT, "With sign-in: oauth2, where tokens are had.")
          .may("scope", Keys.Form.TEXT, "With sign-in: oauth2, what is asked for.")
          .may("certificate", Keys.Form.TEXT, "With sign-in: certificate, the file with ours, PEM.")
          .may("trusts", Keys.Form.TEXT, "A file of certificates, PEM, that are trusted as well.")
          .may("proxy", Keys.Form.TEXT, "HOST:PORT of a proxy.")
          .may(
              "through",
              Keys.Form.NAME,
              "A host whose agent reaches it where the service does not.")
          .may("at-most", Keys.Form.NUMBER, "How many runs may use it at once.")
          .may(
              "bears-outage",
              Keys.Form.DURATION,
              "How long it may be away before work on it fails; 15m.")
          .may("host-key", Keys.Form.TEXT, "Of an sftp server: SHA256:... of its key.")
          .may("region", Keys.Form.TEXT, "Of an object store; us-east-1.");

  private final Page page;
  private final Mentions mentions;

  ConnectionReader(Page page, Mentions mentions) {
    this.page = page;
    this.mentions = mentions;
  }

  Connection read(String name, Fields fields) {
    String address = fields.text("address", "");
    ConnectionKind kind = kind(fields, address);
    boolean sftp = kind == ConnectionKind.SFTP;
    Map<String, String> addresses = fields.texts("address-in");
    Stream.concat(Stream.of(address), addresses.values().stream())
        .filter(one -> !one.isEmpty() && !one.matches(form(kind)))
        .forEach(
            one ->
                page.error(
                    fields.at(one.equals(address) ? "address" : "address-in"),
                    "\""
                        + one
                        + "\" is not an address"
                        + (fields.has("kind") ? " of this kind" : "")
                        + "; expected "
                        + (fields.has("kind") || one.contains("@") ? inWords(kind) : ANY)));
    String hostKey = fields.text("host-key", "");
    if (sftp && !hostKey.matches("SHA256:[A-Za-z0-9+/]{43}")) {
      page.error(
          fields.at("host-key"),
          "an sftp server is trusted by its key: expected \"host-key\" with SHA256: and 43"
              + " characters, as ssh-keygen -l prints it");
    }
    if (sftp && !fields.has("user")) {
      page.error(fields.at("address"), "an sftp server needs a \"user\" who signs in");
    }
    return new Connection(
        name,
        fields.text("title", name),
        kind,
        address,
        addresses,
        fields.text("user", ""),
        secret(fields),
        signIn(fields, kind),
        hostKey,
        fields.text("region", "us-east-1"),
        fields.text("trusts", ""),
        proxy(fields),
        through(fields, name),
        fields.number("at-most", 1, 100_000).orElse(0),
        fields.duration("bears-outage").orElse(Connection.USUAL_OUTAGE));
  }

  private ConnectionKind kind(Fields fields, String address) {
    ConnectionKind usual =
        address.startsWith("sftp:")
            ? ConnectionKind.SFTP
            : address.startsWith("jdbc:")
                ? ConnectionKind.DATABASE
                : address.startsWith("smtp") ? ConnectionKind.MAIL : ConnectionKind.HTTP_UNSAID;
    if (!fields.has("kind")) {
      return usual;
    }
    String text = fields.text("kind", "");
    Optional<ConnectionKind> kind = ConnectionKind.of(text);
    if (kind.isEmpty()) {
      page.error(
          fields.at("kind"),
          "unknown kind of connection \""
              + text
              + "\""
              + Nearest.hint(text, ConnectionKind.words()));
    }
    return kind.orElse(usual);
  }

  private static String form(ConnectionKind kind) {
    return switch (kind) {
      case HTTP, HTTP_UNSAID, OBJECT_STORE, CLUSTER -> HTTP;
      case SFTP -> SFTP;
      case DATABASE -> JDBC + "|" + OTHER_JDBC;
      case MAIL -> SMTP;
    };
  }

  private static String inWords(ConnectionKind kind) {
    return switch (kind) {
      case HTTP, HTTP_UNSAID, OBJECT_STORE, CLUSTER ->
          "http://HOST or https://HOST, without a user in it";
      case SFTP -> "sftp://HOST, without a user in it";
      case MAIL -> "smtp://HOST or smtps://HOST, without a user in it";
      case DATABASE -> "jdbc:mariadb://HOST/NAME or jdbc:postgresql://HOST/NAME, and nothing after";
    };
  }

  private Connection.SecretPlace secret(Fields fields) {
    List<String> given =
        Stream.of("secret", "secret-file", "secret-environment").filter(fields::has).toList();
    if (given.size() > 1) {
      page.error(fields.at(given.get(1)), "a secret stands in one place only");
    }
    return new Connection.SecretPlace(
        fields.has("secret") ? fields.name("secret") : "",
        fields.text("secret-file", ""),
        fields.text("secret-environment", ""));
  }

  private Connection.SignIn signIn(Fields fields, ConnectionKind kind) {
    boolean secret = Stream.of("secret", "secret-file", "secret-environment").anyMatch(fields::has);
    SignInWay usual =
        !secret
            ? SignInWay.NONE
            : kind == ConnectionKind.CLUSTER
                ? SignInWay.BEARER
                : fields.has("user") ? SignInWay.BASIC : SignInWay.NONE;
    SignInWay way = usual;
    if (fields.has("sign-in")) {
      String text = fields.text("sign-in", "");
      Optional<SignInWay> found = SignInWay.of(text);
      if (found.isEmpty()) {
        page.error(
            fields.at("sign-in"),
            "unknown way to sign in \"" + text + "\"" + Nearest.hint(text, SignInWay.words()));
      } else if (kind == ConnectionKind.CLUSTER && !SignInWay.OF_CLUSTERS.contains(found.get())) {
        page.error(fields.at("sign-in"), "a cluster is signed in to with bearer or certificate");
      } else if (!kind.isHttp() && kind != ConnectionKind.CLUSTER) {
        page.error(
            fields.at("sign-in"),
            "\"sign-in\" belongs to connections of the kinds http and cluster");
      } else if (found.get().needsSecret() && !secret) {
        page.error(
            fields.at("sign-in"),
            "sign-in " + text + " needs \"secret\", \"secret-file\" or \"secret-environment\"");
      }
      way = found.orElse(usual);
    }
    only(fields, "header", way, SignInWay.HEADER);
    only(fields, "token-address", way, SignInWay.OAUTH2);
    only(fields, "certificate", way, SignInWay.CERTIFICATE);
    if (fields.has("scope") && way != SignInWay.OAUTH2) {
      page.error(fields.at("scope"), "\"scope\" belongs to sign-in oauth2; leave it out");
    }
    if ((way == SignInWay.BASIC || way == SignInWay.OAUTH2) && !fields.has("user")) {
      page.error(fields.at("sign-in"), "sign-in " + way.word() + " needs \"user\"");
    }
    String header = fields.text("header", "");
    if (!header.isEmpty() && !header.matches("[A-Za-z0-9-]{1,100}")) {
      page.error(fields.at("header"), "\"" + header + "\" is not a valid name of a header");
    }
    String tokens = fields.text("token-address", "");
    if (!tokens.isEmpty() && !tokens.matches(HTTP)) {
      page.error(fields.at("token-address"), "expected an http:// or https:// address");
    }
    return new Connection.SignIn(
        way, header, tokens, fields.text("scope", ""), fields.text("certificate", ""));
  }

  private void only(Fields fields, String key, SignInWay way, SignInWay belongsTo) {
    if (fields.has(key) && way != belongsTo) {
      page.error(
          fields.at(key),
          "\"" + key + "\" belongs to sign-in " + belongsTo.word() + "; leave it out");
    } else if (!fields.has(key) && way == belongsTo) {
      page.error(fields.at("sign-in"), "sign-in " + way.word() + " needs \"" + key + "\"");
    }
  }

  private String through(Fields fields, String name) {
    if (!fields.has("through")) {
      return "";
    }
    mentions.add(fields, "through", Document.What.HOST, fields.name("through"), "", name);
    if (fields.has("proxy")) {
      page.error(
          fields.at("proxy"), "the way leads \"through\" a host or over a \"proxy\", not both");
    }
    return fields.name("through");
  }

  private String proxy(Fields fields) {
    String proxy = fields.text("proxy", "");
    if (!proxy.isEmpty() && !proxy.matches("[A-Za-z0-9.-]+:[1-9]\\d{0,4}")) {
      page.error(fields.at("proxy"), "expected HOST:PORT, such as proxy.brannoch.example:3128");
    }
    return proxy;
  }
}
