package dev.purser.service.alert;

import dev.purser.core.definition.Definitions;
import dev.purser.service.board.Engine;
import dev.purser.service.people.PersonRow;
import jakarta.persistence.EntityManagerFactory;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.hibernate.SessionFactory;
import org.hibernate.StatelessSession;
import org.hibernate.Transaction;
import org.springframework.stereotype.Component;

/**
 * What the teller does at one look, in one transaction: a crash leaves a notice either not looked
 * at, or with all that came of it.
 */
@Component
class Telling {
  /** So long things are gathered, so that what comes of one thing is found before it is told. */
  static final long GATHER_MILLIS = 1_000;

  private static final int MOST = 2_000;
  private static final int MOST_LOOKS = 500;

  private final SessionFactory sessions;
  private final Engine engine;

  Telling(EntityManagerFactory factory, Engine engine) {
    this.sessions = factory.unwrap(SessionFactory.class);
    this.engine = engine;
  }

  /** What was done at a look. */
  record Done(boolean isAny, boolean isMore) {}

  /** Looks after all that is due. */
  synchronized Done look(Instant now) {
    Definitions definitions = engine.definitions();
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      try {
        boolean any = new Reminding(session, definitions, now).look(MOST_LOOKS);
        List<NoticeRow> due = due(session, NoticeRow.DUE, now.minusMillis(GATHER_MILLIS));
        List<NoticeRow> back = due(session, NoticeRow.WAITS, now);
        if (!due.isEmpty() || !back.isEmpty()) {
          Map<String, Optional<PersonRow>> people = new LinkedHashMap<>();
          Dispatch dispatch =
              new Dispatch(
                  session,
                  definitions,
                  name ->
                      people.computeIfAbsent(
                          name, one -> Optional.ofNullable(session.get(PersonRow.class, one))),
                  now);
          new Gathering(session, now).gather(due);
          dispatch.tell(due);
          dispatch.tellTogether(back);
          any = true;
        }
        transaction.commit();
        return new Done(any, due.size() == MOST);
      } catch (RuntimeException e) {
        transaction.rollback();
        throw e;
      }
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
