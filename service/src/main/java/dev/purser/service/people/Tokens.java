package dev.purser.service.people;

import dev.purser.core.problem.Shorten;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The records of tokens, by which programs act for people; only their hashes are kept. */
@Component
@Transactional
public class Tokens {
  /** How long a token holds where nothing is said. */
  public static final Duration USUAL = Duration.ofDays(365);

  private final EntityManager rows;
  private final Clock clock;

  Tokens(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /** A token that was made: its secret, which nobody is shown again, and its record. */
  public record Made(String secret, TokenRow row) {}

  /** Makes a token that acts for a person, for so long. */
  public Made make(String person, String label, TokenScope scope, Duration holds) {
    String secret = "purser_" + Secrets.fresh();
    TokenRow row = new TokenRow();
    row.tokenHash = Secrets.hash(secret);
    row.person = person;
    row.label = Shorten.text(label, 200);
    row.scope = scope.word();
    row.created = clock.instant();
    row.expires = row.created.plus(holds);
    rows.persist(row);
    rows.flush();
    return new Made(secret, row);
  }

  /**
   * Tokens, newest first.
   *
   * @param person whose; empty for everybody's
   */
  @Transactional(readOnly = true)
  public List<TokenRow> list(String person) {
    return rows.createQuery(
            "from TokenRow t where :person = '' or t.person = :person order by t.id desc",
            TokenRow.class)
        .setParameter("person", person)
        .getResultList();
  }

  /** The token of a number. */
  @Transactional(readOnly = true)
  public Optional<TokenRow> byId(long id) {
    return rows
        .createQuery("from TokenRow t where t.id = :id", TokenRow.class)
        .setParameter("id", id)
        .getResultList()
        .stream()
        .findFirst();
  }

  /** The record of a token by its secret, whatever has become of it. */
  @Transactional(readOnly = true)
  public Optional<TokenRow> bySecret(String secret) {
    return Optional.ofNullable(rows.find(TokenRow.class, Secrets.hash(secret)));
  }

  /** Ends a token: it opens nothing from now on. Gives false where it has ended already. */
  public boolean end(long id) {
    return rows.createQuery("delete from TokenRow t where t.id = :id")
            .setParameter("id", id)
            .executeUpdate()
        > 0;
  }

  /** What a token opens now: the person for whom it acts, and whether it was used today before. */
  record Opened(PersonRow person, boolean usedToday) {}

  /**
   * The person for whom a token acts now.
   *
   * @param feed whether the feed is asked for
   * @param asPassword whether it was given as a password
   */
  @Transactional(readOnly = true)
  Optional<Opened> opens(String secret, boolean feed, boolean asPassword) {
    return bySecret(secret)
        .filter(row -> row.holds(clock.instant()))
        .filter(row -> TokenScope.of(row.scope).orElse(TokenScope.ANY).opens(feed, asPassword))
        .flatMap(
            row ->
                Optional.ofNullable(rows.find(PersonRow.class, row.person))
                    .filter(person -> !person.locked && !person.mustChange)
                    .map(person -> new Opened(person, today().equals(row.used))));
  }

  /** Notes that a token was used today. */
  void used(String secret) {
    rows.createQuery("update TokenRow t set t.used = :today where t.tokenHash = :hash")
        .setParameter("today", today())
        .setParameter("hash", Secrets.hash(secret))
        .executeUpdate();
  }

  private LocalDate today() {
    return LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC);
  }
}
