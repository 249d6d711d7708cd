package dev.purser.service.secret;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Problem;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.SiteCheck;
import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Which secrets connections may use. A definition names a secret, and its author may be anybody: so
 * it counts only where an administrator has said that this secret may go to that address.
 */
@Component
public class SecretPermits implements SiteCheck {
  private static final Logger LOG = LoggerFactory.getLogger(SecretPermits.class);
  private static final String ENTERED = "secrets in use entered";
  private static final AuditTrail.Actor SERVICE =
      new AuditTrail.Actor("purser", "the service itself");

  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Engine engine;
  private final AuditTrail audit;
  private final StoredSecrets stored;
  private final Clock clock;

  SecretPermits(
      EntityManager rows,
      TransactionTemplate transactions,
      Engine engine,
      AuditTrail audit,
      StoredSecrets stored,
      Clock clock) {
    this.rows = rows;
    this.transactions = transactions;
    this.engine = engine;
    this.audit = audit;
    this.stored = stored;
    this.clock = clock;
  }

  /** At an upgrade what is in use is entered, once, and listed; whatever comes later is not. */
  @EventListener
  void takenUp(Engine.TakenUp event) {
    transactions.executeWithoutResult(
        status -> {
          if (rows.find(SiteMarkRow.class, ENTERED) != null) {
            return;
          }
          SiteMarkRow mark = new SiteMarkRow();
          mark.name = ENTERED;
          mark.at = clock.instant();
          rows.persist(mark);
          for (Connection connection : engine.definitions().connections()) {
            SecretSource.of(connection).ifPresent(this::enter);
          }
        });
  }

  private void enter(SecretSource source) {
    try {
      SecretSource.of(source.kind(), source.name(), source.address());
    } catch (NotUnderstood e) {
      LOG.warn("a connection uses a secret that it may not: {}", e.getMessage());
      return;
    }
    LOG.info("entered as in use: {}", source.inWords());
    persist(source, SERVICE, "in use when permits were introduced");
  }

  private SecretPermitRow persist(SecretSource source, AuditTrail.Actor actor, String reason) {
    SecretPermitRow row = new SecretPermitRow();
    row.source = source.kind();
    row.name = source.name();
    row.address = source.address();
    row.since = clock.instant();
    row.who = actor.name();
    row.reason = reason;
    rows.persist(row);
    audit.write(actor, "allow secret", source.inWords(), reason);
    return row;
  }

  /** All of them, in the order in which they were given. */
  public List<SecretPermitRow> all() {
    return rows.createQuery("from SecretPermitRow p order by p.id", SecretPermitRow.class)
        .getResultList();
  }

  /** Lets connections to an address use a secret; the same twice is one. */
  public SecretPermitRow allow(SecretSource source, AuditTrail.Actor actor, String reason) {
    return transactions.execute(
        status -> find(source).orElseGet(() -> persist(source, actor, reason)));
  }

  /** Takes that back, at once. Gives false where there is no such permit. */
  public boolean disallow(long id, AuditTrail.Actor actor, String reason) {
    return Boolean.TRUE.equals(
        transactions.execute(
            status -> {
              SecretPermitRow row = rows.find(SecretPermitRow.class, id);
              if (row != null) {
                rows.remove(row);
                audit.write(
                    actor,
                    "disallow secret",
                    row.source + " " + row.name + " for " + row.address,
                    reason);
              }
              return row != null;
            }));
  }

  private Optional<SecretPermitRow> find(SecretSource source) {
    return rows
        .createQuery(
            "from SecretPermitRow p where p.source = :source and p.name = :name and p.address ="
                + " :address",
            SecretPermitRow.class)
        .setParameter("source", source.kind())
        .setParameter("name", source.name())
        .setParameter("address", source.address())
        .getResultList()
        .stream()
        .findFirst();
  }

  /** Whether an administrator has allowed it. */
  boolean isAllowed(SecretSource source) {
    return find(source).isPresent();
  }

  /** Why a connection may not use the secret that it names; empty where it may, or names none. */
  public Optional<String> refusal(Connection connection) {
    return SecretSource.of(connection)
        .filter(source -> find(source).isEmpty())
        .map(
            source ->
                "connection "
                    + connection.name()
                    + " may not use the "
                    + source.inWords()
                    + ": no administrator has allowed it (purser secrets allow)");
  }

  /** Warnings about connections whose secrets nobody has allowed yet. */
  @Override
  public List<Problem> problems(List<Document> documents) {
    List<Problem> found = new ArrayList<>();
    for (Document document : documents) {
      if (document.kind() == Kind.CONNECTION) {
        Connection meant = ((Connection) document.value()).in(engine.definitions().environment());
        refusal(meant).ifPresent(text -> found.add(document.warning(text)));
      }
    }
    return found;
  }

  /**
   * The secret of a connection; empty text where it has none.
   *
   * @throws IOException where it may not be used or cannot be read
   */
  public String secretOf(Connection connection) throws IOException {
    Optional<String> refusal = refusal(connection);
    if (refusal.isPresent()) {
      throw new IOException(refusal.get());
    }
    Connection.SecretPlace place = connection.secret();
    if (!place.stored().isEmpty()) {
      return stored.read(place.stored());
    }
    if (!place.file().isEmpty()) {
      try {
        return Files.readString(Path.of(place.file()), StandardCharsets.UTF_8).strip();
      } catch (IOException e) {
        throw new IOException(
            "cannot read the secret of " + connection.name() + " in " + place.file(), e);
      }
    }
    if (place.variable().isEmpty()) {
      return "";
    }
    String secret = System.getenv(place.variable());
    if (secret == null) {
      throw new IOException("the service has no variable " + place.variable() + " with the secret");
    }
    return secret;
  }
}
