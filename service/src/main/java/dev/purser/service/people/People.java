package dev.purser.service.people;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.active.Active;
import dev.purser.service.board.Engine;
import jakarta.persistence.EntityManager;
import jakarta.persistence.LockModeType;
import java.time.Clock;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The records of people. Passwords come as hashes, so that no transaction waits for one. */
@Component
@Transactional
public class People {
  private final EntityManager rows;
  private final Passwords passwords;
  private final Clock clock;
  private final ObjectProvider<Active> service;

  People(EntityManager rows, Passwords passwords, Clock clock, ObjectProvider<Active> service) {
    this.rows = rows;
    this.passwords = passwords;
    this.clock = clock;
    this.service = service;
  }

  /** Makes the first administrator where there is nobody yet, and prints the password once. */
  @EventListener({ApplicationReadyEvent.class, Engine.TakenUp.class})
  public void firstStart() {
    if (service.getObject().isActive() && all().isEmpty()) {
      String password = Secrets.password();
      save("admin", Role.ADMINISTRATOR, passwords.hash(password), true);
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

  /**
   * Adds a person, or changes the role and password of one. With another password all sessions of
   * theirs end.
   *
   * @param mustChange whether the password must be replaced at the next sign-in
   * @throws NotUnderstood for a name that is none
   * @throws LastAdministrator where the last administrator would have another role
   */
  public void save(String name, Role role, String passwordHash, boolean mustChange) {
    if (!name.matches("[a-z0-9][a-z0-9._-]{0,63}")) {
      throw new NotUnderstood(
          "\""
              + name
              + "\" is not a valid name for a person; use lower-case letters, digits, . _ -");
    }
    PersonRow found = rows.find(PersonRow.class, name);
    if (found != null && role != Role.ADMINISTRATOR) {
      refuseWithoutAdministrator(name, "be " + role.inWords());
    }
    PersonRow row = found == null ? new PersonRow() : found;
    row.name = name;
    row.role = role.word();
    row.passwordHash = passwordHash;
    row.mustChange = mustChange;
    row.created = row.created == null ? clock.instant() : row.created;
    endSessions(row);
    if (found == null) {
      rows.persist(row);
    }
  }

  /**
   * Gives a person another role; what they are doing goes on with it.
   *
   * @return false where there is nobody of that name
   * @throws LastAdministrator for the last administrator
   */
  public boolean changeRole(String name, Role role) {
    PersonRow row = rows.find(PersonRow.class, name);
    if (row != null) {
      if (role != Role.ADMINISTRATOR) {
        refuseWithoutAdministrator(name, "be " + role.inWords());
      }
      row.role = role.word();
    }
    return row != null;
  }

  /**
   * Notes where alerts reach a person.
   *
   * @param mail empty for nowhere
   * @return false where there is nobody of that name
   */
  public boolean changeMail(String name, String mail) {
    PersonRow row = rows.find(PersonRow.class, name);
    if (row != null) {
      row.mail = mail;
    }
    return row != null;
  }

  /**
   * Removes a person and the tokens that act for them.
   *
   * @return false where there is nobody of that name
   * @throws LastAdministrator for the last administrator
   */
  public boolean remove(String name) {
    refuseWithoutAdministrator(name, "be removed");
    rows.createQuery("delete from TokenRow t where t.person = :name")
        .setParameter("name", name)
        .executeUpdate();
    PersonRow row = rows.find(PersonRow.class, name);
    if (row != null) {
      rows.remove(row);
    }
    return row != null;
  }

  /**
   * Locks a person out, with all sessions and tokens, or lets them in again.
   *
   * @return false where there is nobody of that name
   * @throws LastAdministrator for the last administrator
   */
  public boolean lock(String name, boolean out) {
    PersonRow row = rows.find(PersonRow.class, name);
    if (row != null) {
      if (out) {
        refuseWithoutAdministrator(name, "be locked out");
        endSessions(row);
      }
      row.locked = out;
    }
    return row != null;
  }

  /**
   * Ends all sessions of a person; tokens go on.
   *
   * @return false where there is nobody of that name
   */
  public boolean endSessions(String name) {
    PersonRow row = rows.find(PersonRow.class, name);
    if (row != null) {
      endSessions(row);
    }
    return row != null;
  }

  private void endSessions(PersonRow row) {
    row.accessSince = clock.instant().truncatedTo(ChronoUnit.MILLIS);
  }

  /** All administrators are locked while this is asked, so that two cannot remove each other. */
  private void refuseWithoutAdministrator(String name, String be) {
    List<PersonRow> administrators =
        rows.createQuery("from PersonRow p where p.role = :role order by p.name", PersonRow.class)
            .setParameter("role", Role.ADMINISTRATOR.word())
            .setLockMode(LockModeType.PESSIMISTIC_WRITE)
            .getResultList();
    boolean isOne = administrators.stream().anyMatch(one -> one.name.equals(name));
    boolean another =
        administrators.stream().anyMatch(one -> !one.name.equals(name) && !one.locked);
    if (isOne && !another) {
      throw new LastAdministrator(
          name
              + " is the last administrator and cannot "
              + be
              + "; make somebody else administrator first");
    }
  }
}
