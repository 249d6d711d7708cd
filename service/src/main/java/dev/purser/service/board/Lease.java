package dev.purser.service.board;

import dev.purser.service.Settings;
import jakarta.persistence.EntityManagerFactory;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.hibernate.SessionFactory;
import org.hibernate.StatelessSession;
import org.hibernate.Transaction;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Which of the services on one database is active. The lease is a row that the active one renews;
 * each that takes it counts the epoch up, and every transaction of the engine begins by asserting
 * its epoch: one that was replaced without noticing can write nothing any more.
 */
@Component
public class Lease {
  /** How long the active one may be silent before another takes over. */
  static final int GOOD_SECONDS = 6;

  /** How often it is renewed at the least. */
  static final long RENEW_MILLIS = 1_500;

  /** Agents obey no epoch that is older than one they know; nor is any run's id used again. */
  static final long ABOVE_ALL_SINCE_THE_BACKUP = 1_000_000;

  private static final String DRAIN_ALL =
      "insert ignore into host_drain (host, note, who, since) select name, 'drained: the records were"
          + " restored from a backup', 'system', utc_timestamp(3) from host";

  private static final Logger LOG = LoggerFactory.getLogger(Lease.class);
  private static final String GOOD = "utc_timestamp(3) + interval " + GOOD_SECONDS + " second";

  private final SessionFactory sessions;
  private final Settings settings;
  private final Holder self = Holder.self();
  private volatile long epoch;

  /**
   * Until when nobody else can have taken it, of {@link System#nanoTime}; it runs on in a pause.
   */
  private volatile long sureUntil = System.nanoTime();

  private long renewedAt = System.nanoTime();
  private long asserted = System.nanoTime();
  private volatile String other = "";
  private volatile boolean seenHeld;

  Lease(EntityManagerFactory factory, Settings settings) {
    this.sessions = factory.unwrap(SessionFactory.class);
    this.settings = settings;
  }

  /** Another service has taken the lease. */
  static final class Lost extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Lost() {
      super("another service has become the active one");
    }
  }

  /** The row. */
  private record Row(long epoch, String holder, String address, boolean isGood) {}

  /** Counts the services that have been active, as of when this one became so; 0 before. */
  public long epoch() {
    return epoch;
  }

  /** The address of the service that is active, as far as it is known; empty if it is not. */
  public String activeAddress() {
    return other;
  }

  /** Who is active, for people. */
  public String inWords() {
    return other.isEmpty() ? "no other is active yet" : other + " is the active one";
  }

  /** Whether another has been seen to hold it. */
  boolean wasSeenHeld() {
    return seenHeld;
  }

  /** Takes the lease where it is free, has run out, or its holder is known to be dead. */
  boolean tryTake() {
    long now = System.nanoTime();
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      Row row = read(session);
      Optional<Holder> holder = Holder.parse(row.holder());
      boolean own = holder.filter(self::equals).isPresent();
      boolean free = !row.isGood() || own || holder.filter(Holder::isKnownToBeDead).isPresent();
      if (free) {
        change(
            session,
            "update lease set epoch=?, holder=?, address=?, turn=0, good_until=" + GOOD,
            next(row.epoch()),
            self.toString(),
            settings.consoleAddress());
        if (settings.restored()) {
          change(session, DRAIN_ALL);
        }
      } else {
        seenHeld = true;
        if (!other.equals(row.address())) {
          LOG.warn(
              "this service stands by: {} (process {} on {}) is active on this database",
              row.address(),
              holder.map(Holder::process).orElse(0L),
              holder.map(Holder::name).orElse("?"));
        }
      }
      transaction.commit();
      if (free) {
        goodFrom(now);
      }
      other = free ? "" : row.address();
      epoch = free ? next(row.epoch()) : epoch;
      return free;
    }
  }

  private long next(long before) {
    return before + (settings.restored() ? ABOVE_ALL_SINCE_THE_BACKUP : 1);
  }

  /** Looks who is active, and takes nothing: false. */
  boolean look() {
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      Row row = read(session);
      transaction.commit();
      boolean dead = Holder.parse(row.holder()).filter(Holder::isKnownToBeDead).isPresent();
      other = row.isGood() && !dead ? row.address() : "";
      seenHeld |= row.isGood() && !dead;
      return false;
    }
  }

  private static Row read(StatelessSession session) {
    return session.doReturningWork(
        connection -> {
          try (PreparedStatement select =
                  connection.prepareStatement(
                      "select epoch, holder, address, good_until > utc_timestamp(3) from lease"
                          + " where id=1 for update");
              ResultSet found = select.executeQuery()) {
            if (!found.next()) {
              throw new SQLException("the table \"lease\" has lost its row");
            }
            return new Row(
                found.getLong(1), found.getString(2), found.getString(3), found.getBoolean(4));
          }
        });
  }

  private static int change(StatelessSession session, String text, Object... values) {
    return session.doReturningWork(
        connection -> {
          try (PreparedStatement update = connection.prepareStatement(text)) {
            for (int i = 0; i < values.length; i++) {
              update.setObject(i + 1, values[i]);
            }
            return update.executeUpdate();
          }
        });
  }

  /**
   * Asserts and renews the lease as the first step of a turn's transaction.
   *
   * @param turn its number, counted up since this service has become active
   * @return false where this very turn is on record already
   * @throws Lost where another has taken the lease
   */
  boolean assertIn(StatelessSession session, long turn) {
    asserted = System.nanoTime();
    String text = "update lease set turn=?, good_until=" + GOOD + " where id=1 and epoch=?";
    if (change(session, text + " and turn<?", turn, epoch, turn) > 0) {
      return true;
    }
    if (read(session).epoch() == epoch) {
      return false;
    }
    throw new Lost();
  }

  /** The turn in which it was asserted last is on record: so long it is good. */
  void turnIsOnRecord() {
    renewedAt = asserted;
    goodFrom(asserted);
  }

  /**
   * Renews it while nothing is to be written.
   *
   * @throws Lost where another has taken it
   */
  void renew() {
    long now = System.nanoTime();
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      String text = "update lease set good_until=" + GOOD + " where id=1 and epoch=?";
      int rows = change(session, text, epoch);
      transaction.commit();
      if (rows == 0) {
        sureUntil = now;
        throw new Lost();
      }
      goodFrom(now);
    }
  }

  /**
   * Renews it where the last time is long enough ago. That is measured by a clock that nobody sets.
   *
   * @throws Lost where another has taken it
   */
  void renewWhereDue() {
    if (System.nanoTime() - renewedAt >= TimeUnit.MILLISECONDS.toNanos(RENEW_MILLIS)) {
      renewedAt = System.nanoTime(); // also where it fails: the next turn finds out
      renew();
    }
  }

  /** Counted from before the database was asked, so that it never seems longer than it is. */
  private void goodFrom(long asked) {
    sureUntil = asked + TimeUnit.SECONDS.toNanos(GOOD_SECONDS);
  }

  /**
   * Whether nobody else can be active now. After a pause of this process, or while the database is
   * away, that is not known: then nothing goes out that cannot be taken back.
   */
  boolean isSure() {
    return System.nanoTime() - sureUntil < 0;
  }

  /** Lets it go, so that another need not wait. */
  void giveUp() {
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      change(session, "update lease set good_until='2000-01-01' where id=1 and epoch=?", epoch);
      transaction.commit();
    } catch (RuntimeException e) {
      LOG.debug("the lease runs out by itself", e);
    }
  }
}
