package dev.purser.service.telling;

import dev.purser.service.alert.NoticeRow;
import dev.purser.service.board.DatabaseAway;
import dev.purser.service.board.Engine;
import dev.purser.service.people.PersonRow;
import jakarta.persistence.EntityManagerFactory;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import org.hibernate.SessionFactory;
import org.hibernate.StatelessSession;
import org.hibernate.Transaction;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * What the teller does at one look, a batch a transaction: a crash leaves a notice either not
 * looked at, or with all that came of it.
 */
@Component
class Telling {
  /** So long things are gathered, so that what comes of one thing is found before it is told. */
  static final long GATHER_MILLIS = 1_000;

  private static final int MOST = 2_000;
  private static final int MOST_LOOKS = 500;

  private static final Logger LOG = LoggerFactory.getLogger(Telling.class);

  private final SessionFactory sessions;
  private final Engine engine;
  private Instant reminded = Instant.EPOCH;

  Telling(EntityManagerFactory factory, Engine engine) {
    this.sessions = factory.unwrap(SessionFactory.class);
    this.engine = engine;
  }

  /** What was done at a look. */
  record Done(boolean isAny, boolean isMore) {}

  /**
   * Looks after all that is due. Where a batch cannot be told, each of it is tried by itself, and
   * the one that cannot is put aside with its reason: it stops no other.
   */
  synchronized Done look(Instant now) {
    boolean reminded = remind(now);
    List<NoticeRow> due =
        within(session -> due(session, NoticeRow.DUE, now.minusMillis(GATHER_MILLIS)));
    List<NoticeRow> back = within(session -> due(session, NoticeRow.WAITS, now));
    if (!due.isEmpty() || !back.isEmpty()) {
      try {
        tell(due, back, now);
      } catch (Dispatch.Overtaken e) {
        LOG.info("what was to be told is not told here: {}", e.getMessage());
      } catch (RuntimeException e) {
        oneByOne(e, due, one -> tellOne(one, now));
        oneByOne(e, back, one -> tellOne(one, now));
      }
    }
    return new Done(reminded || !due.isEmpty() || !back.isEmpty(), due.size() == MOST);
  }

  /** What is to be told again is looked for once a second: it is due by the minute. */
  private boolean remind(Instant now) {
    if (!now.isBefore(reminded) && now.isBefore(reminded.plusMillis(GATHER_MILLIS))) {
      return false;
    }
    reminded = now;
    List<Reminding.Task> tasks = within(session -> Reminding.due(session, now, MOST_LOOKS));
    try {
      remind(tasks, now);
    } catch (RuntimeException e) {
      oneByOne(e, tasks, one -> remindOne(one, now));
    }
    return !tasks.isEmpty();
  }

  private void remind(List<Reminding.Task> tasks, Instant now) {
    within(
        session -> {
          Reminding reminding = new Reminding(session, engine.definitions(), now);
          tasks.forEach(reminding::look);
          return true;
        });
  }

  private static <T> void oneByOne(RuntimeException why, List<T> all, Consumer<T> each) {
    if (DatabaseAway.is(why)) {
      throw why;
    }
    LOG.warn("what is to be told cannot be told at once; each is tried: {}", why.toString());
    all.forEach(each);
  }

  private void remindOne(Reminding.Task task, Instant now) {
    try {
      remind(List.of(task), now);
    } catch (RuntimeException e) {
      putAside(
          e,
          task.toString(),
          session -> {
            Reminding.putAside(session, task);
            return true;
          });
    }
  }

  /** Read anew: what was tried before may have been changed in memory, and was rolled back. */
  private void tellOne(NoticeRow notice, Instant now) {
    try {
      NoticeRow one = within(session -> session.get(NoticeRow.class, notice.id));
      switch (one.state) {
        case NoticeRow.DUE -> tell(List.of(one), List.of(), now);
        case NoticeRow.WAITS -> tell(List.of(), List.of(one), now);
        default -> LOG.info("notice {} is {} by now", one.id, one.state);
      }
    } catch (Dispatch.Overtaken e) {
      LOG.info("notice {} is not told here: {}", notice.id, e.getMessage());
    } catch (RuntimeException e) {
      putAside(
          e,
          "notice " + notice.id + " of alert " + notice.alert,
          session ->
              session
                  .createMutationQuery(
                      "update NoticeRow n set n.state = 'dropped', n.note = :why where n.id = :id")
                  .setParameter("why", "it cannot be told; the service's log says why")
                  .setParameter("id", notice.id)
                  .executeUpdate());
    }
  }

  private <T> void putAside(RuntimeException why, String what, Function<StatelessSession, T> away) {
    if (DatabaseAway.is(why)) {
      throw why;
    }
    LOG.warn("{} cannot be told, and is put aside", what, why);
    within(away);
  }

  private void tell(List<NoticeRow> due, List<NoticeRow> back, Instant now) {
    within(
        session -> {
          Map<String, Optional<PersonRow>> people = new LinkedHashMap<>();
          Dispatch dispatch =
              new Dispatch(
                  session,
                  engine.definitions(),
                  name ->
                      people.computeIfAbsent(
                          name, one -> Optional.ofNullable(session.get(PersonRow.class, one))),
                  now);
          new Gathering(session, now).gather(due);
          dispatch.tell(due);
          dispatch.tellTogether(back);
          return true;
        });
  }

  private <T> T within(Function<StatelessSession, T> work) {
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      try {
        T done = work.apply(session);
        transaction.commit();
        return done;
      } catch (RuntimeException e) {
        rollBack(transaction, e);
        throw e;
      }
    }
  }

  /** On a broken connection that fails as well: what counts is why it was needed. */
  private static void rollBack(Transaction transaction, RuntimeException cause) {
    try {
      transaction.rollback();
    } catch (RuntimeException e) {
      cause.addSuppressed(e);
    }
  }

  private static List<NoticeRow> due(StatelessSession session, String state, Instant until) {
    return new ArrayList<>(
        session
            .createSelectionQuery(
                "from NoticeRow n where n.state = :state and n.due <= :until order by n.id",
                NoticeRow.class)
            .setParameter("state", state)
            .setParameter("until", until)
            .setMaxResults(MOST)
            .getResultList());
  }
}
