package dev.purser.service.people;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.service.active.Active;
import dev.purser.service.board.Engine;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The records of people and their tokens. */
@Component
@Transactional
public class People {
  private static final int SHORTEST_PASSWORD = 12;

  private final EntityManager rows;
  private final PasswordEncoder encoder;
  private final Clock clock;
  private final ObjectProvider<Active> service;

  People(EntityManager rows, PasswordEncoder encoder, Clock clock, ObjectProvider<Active> service) {
    this.rows = rows;
    this.encoder = encoder;
    this.clock = clock;
    this.service = service;
  }

  /** Makes the first administrator where there is nobody yet, and prints the password once. */
  @EventListener({ApplicationReadyEvent.class, Engine.TakenUp.class})
  public void firstStart() {
    if (service.getObject().isActive() && all().isEmpty()) {
      String password = Secrets.password();
      save("admin", Role.ADMINISTRATOR, password, true);
      System.out.println(
          "First start: sign in as \"admin\" with the one-time password " + password);
    }
  }

  /** The person of a name. */
  @Transactional(readOnly = true)
  public Optional<PersonRow> byName(String name) {
    return Optional.ofNullable(rows.find(PersonRow.class, name));
  }

  /** Everybody, by name. */
  @Transactional(readOnly = true)
  public List<PersonRow> all() {
    return rows.createQuery("from PersonRow p order by p.name", PersonRow.class).getResultList();
  }

  /** The person of a name and password; takes as long for an unknown name as for a known one. */
  @Transactional(readOnly = true)
  public Optional<PersonRow> signIn(String name, String password) {
    Optional<PersonRow> person = byName(name);
    String hash = person.map(found -> found.passwordHash).orElse(NobodyHash.VALUE);
    boolean right = encoder.matches(password, hash);
    return person.filter(found -> right);
  }

  /** A hash that no password has, to compare with where there is no such person. */
  private static final class NobodyHash {
    private static final String VALUE =
        "$argon2id$v=19$m=16384,t=2,p=1$c29tZXNhbHRzb21lc2FsdA"
            + "$5nNqCqXnUwfnSLSpKXn5Yp3mYGlBPXrxWkVEbRUiV2k";
  }

  /**
   * Adds a person, or changes the role and password of one.
   *
   * @throws NotUnderstood for a password that is too short
   */
  public void save(String name, Role role, String password, boolean mustChange) {
    if (password.length() < SHORTEST_PASSWORD) {
      throw new NotUnderstood(
          "the password is too short; it needs at least " + SHORTEST_PASSWORD + " characters");
    }
    if (!name.matches("[a-z0-9][a-z0-9._-]{0,63}")) {
      throw new NotUnderstood(
          "\"" + name + "\" is no name for a person; use lower-case letters, digits, . _ -");
    }
    PersonRow found = rows.find(PersonRow.class, name);
    PersonRow row = found == null ? new PersonRow() : found;
    row.name = name;
    row.role = role.word();
    row.passwordHash = encoder.encode(password);
    row.mustChange = mustChange;
    row.created = row.created == null ? clock.instant() : row.created;
    if (found == null) {
      rows.persist(row);
    }
  }

  /** Removes a person and the tokens that act for them. */
  public boolean remove(String name) {
    rows.createQuery("delete from TokenRow t where t.person = :name")
        .setParameter("name", name)
        .executeUpdate();
    PersonRow row = rows.find(PersonRow.class, name);
    if (row != null) {
      rows.remove(row);
    }
    return row != null;
  }

  /** Makes a token that acts for a person; only its hash is kept. */
  public String newToken(String person, String label) {
    String token = "purser_" + Secrets.fresh();
    TokenRow row = new TokenRow();
    row.tokenHash = Secrets.hash(token);
    row.person = person;
    row.label = Shorten.text(label, 200);
    row.created = clock.instant();
    rows.persist(row);
    return token;
  }

  /** The person for whom a token acts. */
  @Transactional(readOnly = true)
  public Optional<PersonRow> byToken(String token) {
    return Optional.ofNullable(rows.find(TokenRow.class, Secrets.hash(token)))
        .flatMap(row -> byName(row.person));
  }
}
