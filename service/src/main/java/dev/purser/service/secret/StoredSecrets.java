package dev.purser.service.secret;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.Fields;
import dev.purser.remote.http.Masked;
import dev.purser.service.audit.AuditTrail;
import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Secrets that the service keeps: set by an administrator, encrypted, and never shown again. */
@Component
public class StoredSecrets {
  private static final int LONGEST = 8_192;
  private static final Duration USED_AGAIN = Duration.ofMinutes(10);

  private final EntityManager rows;
  private final SecretKeys keys;
  private final AuditTrail audit;
  private final Clock clock;

  StoredSecrets(EntityManager rows, SecretKeys keys, AuditTrail audit, Clock clock) {
    this.rows = rows;
    this.keys = keys;
    this.audit = audit;
    this.clock = clock;
  }

  /** All of them by name; none is readable. */
  @Transactional(readOnly = true)
  public List<StoredSecretRow> all() {
    return rows.createQuery("from StoredSecretRow s order by s.name", StoredSecretRow.class)
        .getResultList();
  }

  /**
   * Keeps a secret, in the place of one of the same name.
   *
   * @throws NotUnderstood where the name or the secret cannot be kept, or there is no key
   */
  @Transactional
  public StoredSecretRow set(String name, String secret, AuditTrail.Actor actor, String reason) {
    if (!Fields.isName(name)) {
      throw new NotUnderstood(
          "\""
              + name
              + "\" is not a valid name of a secret; expected lower-case letters, digits, dots and"
              + " dashes");
    }
    if (secret.length() < Masked.SHORTEST) {
      throw new NotUnderstood(
          "a secret needs at least "
              + Masked.SHORTEST
              + " characters: a shorter one could not be told from innocent text where it turns up");
    }
    if (secret.getBytes(StandardCharsets.UTF_8).length > LONGEST || secret.indexOf('\0') >= 0) {
      throw new NotUnderstood("a secret has at most " + LONGEST + " bytes, and none that is NUL");
    }
    SecretKeys.Key key = firstKey();
    StoredSecretRow known = rows.find(StoredSecretRow.class, name);
    StoredSecretRow row = known == null ? new StoredSecretRow() : known;
    row.name = name;
    row.sealed = Sealing.seal(key.bytes(), name, secret);
    row.keyId = key.id();
    row.version = known == null ? 1 : known.version + 1;
    row.since = clock.instant();
    row.who = actor.name();
    if (known == null) {
      rows.persist(row);
    }
    audit.write(actor, "set secret", name, reason);
    return row;
  }

  private SecretKeys.Key firstKey() {
    try {
      return keys.first();
    } catch (IOException e) {
      throw new NotUnderstood(e.getMessage());
    }
  }

  /** Forgets a secret. Gives false where there is none of that name. */
  @Transactional
  public boolean remove(String name, AuditTrail.Actor actor, String reason) {
    StoredSecretRow row = rows.find(StoredSecretRow.class, name);
    if (row != null) {
      rows.remove(row);
      audit.write(actor, "remove secret", name, reason);
    }
    return row != null;
  }

  /**
   * Encrypts all of them with the first key, so that the others can be taken away.
   *
   * @return how many were encrypted with another one
   * @throws NotUnderstood where one cannot be read; nothing is changed then
   */
  @Transactional
  public int encryptAnew(AuditTrail.Actor actor, String reason) {
    SecretKeys.Key key = firstKey();
    int changed = 0;
    for (StoredSecretRow row : all()) {
      if (!row.keyId.equals(key.id())) {
        try {
          row.sealed = Sealing.seal(key.bytes(), row.name, open(row));
        } catch (IOException e) {
          throw new NotUnderstood(e.getMessage());
        }
        row.keyId = key.id();
        changed++;
      }
    }
    audit.write(actor, "encrypt secrets anew", "key " + key.id(), reason);
    return changed;
  }

  /**
   * A secret in plain text, to be sent to where it may go.
   *
   * @throws IOException where there is none, or it cannot be read
   */
  @Transactional
  public String read(String name) throws IOException {
    StoredSecretRow row = rows.find(StoredSecretRow.class, name);
    if (row == null) {
      throw new IOException(
          "there is no secret \"" + name + "\" (purser secrets set " + name + ")");
    }
    if (row.used == null || row.used.isBefore(clock.instant().minus(USED_AGAIN))) {
      row.used = clock.instant();
    }
    return open(row);
  }

  /** A secret in plain text, for the mask: that is no use. */
  String open(StoredSecretRow row) throws IOException {
    Optional<SecretKeys.Key> key = keys.of(row.keyId);
    if (key.isEmpty()) {
      throw new IOException(
          "the secret \""
              + row.name
              + "\" is encrypted with the key "
              + row.keyId
              + ", which is not in the file of keys any more");
    }
    try {
      return Sealing.open(key.get().bytes(), row.name, row.sealed);
    } catch (GeneralSecurityException e) {
      throw new IOException("the secret \"" + row.name + "\" was changed, or is damaged", e);
    }
  }
}
