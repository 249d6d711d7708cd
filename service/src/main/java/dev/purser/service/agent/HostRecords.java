package dev.purser.service.agent;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.SiteClock;
import dev.purser.service.people.Secrets;
import dev.purser.wire.agent.FromAgent;
import jakarta.persistence.EntityManager;
import jakarta.persistence.LockModeType;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The records of hosts: who may connect as which. */
@Component
@Transactional
public class HostRecords {
  private static final Duration TOKEN_LIFE = Duration.ofHours(24);

  private static final String ENDED = "ended ";

  private final EntityManager rows;
  private final SiteClock siteClock;
  private final Clock clock;

  HostRecords(EntityManager rows, SiteClock siteClock, Clock clock) {
    this.rows = rows;
    this.siteClock = siteClock;
    this.clock = clock;
  }

  /** A token and until when it is good. */
  public record Token(String token, Instant expires) {}

  /** Makes a token with which the agent of one host can be enrolled once. */
  public Token newToken(String host) {
    String token = Secrets.fresh();
    EnrolmentTokenRow row = new EnrolmentTokenRow();
    row.tokenHash = Secrets.hash(token);
    row.host = host;
    row.expires = clock.instant().plus(TOKEN_LIFE);
    rows.persist(row);
    return new Token(token, row.expires);
  }

  /**
   * Exchanges a token for a key; an earlier key of the host is good no more.
   *
   * @throws NotUnderstood where the token is not good for this host
   */
  public String enrol(String host, String token) {
    EnrolmentTokenRow row =
        rows.find(EnrolmentTokenRow.class, Secrets.hash(token), LockModeType.PESSIMISTIC_WRITE);
    if (row == null || !row.host.equals(host)) {
      throw new NotUnderstood("this enrolment token is not for host \"" + host + "\"");
    }
    if (row.used != null) {
      throw new NotUnderstood(
          "this enrolment token was used at "
              + siteClock.at(row.used)
              + "; an administrator can give a new one");
    }
    if (row.expires.isBefore(clock.instant())) {
      throw new NotUnderstood(
          "this enrolment token was good until "
              + siteClock.at(row.expires)
              + "; ask for a new one");
    }
    row.used = clock.instant();
    String key = Secrets.fresh();
    HostRow found = rows.find(HostRow.class, host);
    HostRow known = found == null ? new HostRow() : found;
    known.name = host;
    known.keyHash = Secrets.hash(key);
    known.enrolled = clock.instant();
    known.version = known.version == null ? "" : known.version;
    known.labels = known.labels == null ? "" : known.labels;
    known.put(known.cores == 0 ? FromAgent.Machine.UNKNOWN : known.machine());
    if (found == null) {
      rows.persist(known);
    }
    return key;
  }

  /**
   * Ends the key of a host: its agent must be enrolled anew.
   *
   * @return false where the host has none
   */
  public boolean endKey(String host) {
    HostRow row = rows.find(HostRow.class, host);
    boolean has = row != null && !row.keyHash.startsWith(ENDED);
    if (has) {
      row.keyHash = ENDED + Secrets.fresh().substring(0, 40); // which no key comes to
    }
    return has;
  }

  /**
   * Why an agent may not connect as a host.
   *
   * @param key as the agent gives it; compared with the digest on record
   * @return the reason, as it is told to the agent; empty where it may
   */
  @Transactional(readOnly = true)
  public Optional<String> refusal(String host, String key) {
    HostRow row = rows.find(HostRow.class, host);
    if (row == null) {
      return Optional.of("host \"" + host + "\" is not enrolled");
    }
    if (row.keyHash.equals(Secrets.hash(key))) {
      return Optional.empty();
    }
    boolean another =
        !rows.createQuery("from HostRow h where h.keyHash = :hash", HostRow.class)
            .setParameter("hash", Secrets.hash(key))
            .getResultList()
            .isEmpty();
    return Optional.of(
        another
            ? "this key belongs to another host than \"" + host + "\""
            : "wrong key for host \"" + host + "\"; enrol its agent again");
  }

  /**
   * Notes what an agent said of itself.
   *
   * @param labels with commas between; empty for none
   */
  public void seen(String host, String version, String labels) {
    HostRow row = rows.find(HostRow.class, host);
    if (row != null) {
      row.lastSeen = clock.instant();
      row.version = version;
      row.labels = labels;
    }
  }

  /** Notes how hosts are whose agents are there. */
  void seen(Collection<AgentConnection> there) {
    for (AgentConnection one : there) {
      HostRow row = rows.find(HostRow.class, one.host);
      if (row != null) {
        row.lastSeen = Instant.ofEpochMilli(one.lastSeen);
        row.clockDifference = one.clockDifference();
        row.put(one.machine);
      }
    }
  }

  /** All enrolled hosts by name. */
  @Transactional(readOnly = true)
  public List<HostRow> all() {
    return rows.createQuery("from HostRow h order by h.name", HostRow.class).getResultList();
  }
}
