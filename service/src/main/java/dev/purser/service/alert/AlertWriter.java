package dev.purser.service.alert;

import dev.purser.core.alert.AlertSubject;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.Instruction;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.RunSpec;
import jakarta.persistence.EntityManagerFactory;
import java.time.Instant;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.hibernate.LockMode;
import org.hibernate.SessionFactory;
import org.hibernate.StatelessSession;
import org.hibernate.Transaction;
import org.springframework.stereotype.Component;

/**
 * Writes alerts, and whom they must reach, in the transaction of what they are about: so an alert
 * is on its way if and only if its reason is on record.
 */
@Component
public class AlertWriter {
  private final SessionFactory sessions;

  AlertWriter(EntityManagerFactory factory) {
    this.sessions = factory.unwrap(SessionFactory.class);
  }

  /**
   * Writes what the instructions open and close.
   *
   * @param text what an alert that is opened says
   */
  public void write(
      List<Instruction> instructions,
      Function<Instruction.OpenAlert, String> text,
      Map<Long, RunSpec> specs,
      Definitions definitions,
      long now,
      StatelessSession session) {
    Instant at = Instant.ofEpochMilli(now);
    Instruction.Some writing =
        new Instruction.Some() {
          @Override
          public Void visit(Instruction.OpenAlert open) {
            if (specs.containsKey(open.run())) {
              open(open, text.apply(open), specs.get(open.run()), definitions, at, session);
            }
            return null;
          }

          @Override
          public Void visit(Instruction.CloseAlert close) {
            close(close, at, session);
            return null;
          }
        };
    instructions.forEach(instruction -> instruction.accept(writing));
  }

  private static void open(
      Instruction.OpenAlert open,
      String text,
      RunSpec spec,
      Definitions definitions,
      Instant at,
      StatelessSession session) {
    Optional<Stream> stream = definitions.streamAt(spec.run().reference().stream());
    AlertRow alert = new AlertRow();
    alert.kind = open.kind().word();
    alert.about = AlertSubject.RUN.word();
    alert.run = open.run();
    alert.reference = spec.run().reference().toString();
    alert.stream = spec.run().reference().stream();
    String streamTitle = stream.map(Stream::title).orElse(alert.stream);
    alert.title = Shorten.text(streamTitle + ": " + spec.run().job().title(), 300);
    alert.text = Shorten.text(text, 2_000);
    alert.opened = at;
    alert.acknowledgedBy = "";
    alert.closedBecause = "";
    session.insert(alert);
    AlertStepRow step = AlertStepRow.of(alert, "opened", "", alert.text, at);
    session.insert(step);
    for (String name : stream.map(AlertWriter::recipients).orElse(Set.of())) {
      definitions
          .recipient(name)
          .filter(recipient -> recipient.receives().contains(open.kind()))
          .ifPresent(recipient -> send(step, recipient, at, session));
    }
  }

  /**
   * Writes an alert about no run, for those whom it matters to.
   *
   * @param trouble what is wrong, and whom it matters to
   * @param at when it was found
   */
  public void open(SiteTrouble trouble, Definitions definitions, Instant at) {
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      AlertRow alert = new AlertRow();
      alert.kind = trouble.kind().word();
      alert.about = trouble.subject().word();
      alert.reference = trouble.reference();
      alert.stream = "";
      alert.title = Shorten.text(trouble.title(), 300);
      alert.text = Shorten.text(trouble.text(), 2_000);
      alert.opened = at;
      alert.acknowledgedBy = "";
      alert.closedBecause = "";
      session.insert(alert);
      tell(AlertStepRow.of(alert, "opened", "", alert.text, at), trouble, definitions, session);
      transaction.commit();
    }
  }

  /**
   * Writes that an alert is of another kind now: whoever receives that kind is told anew. Whoever
   * has taken it on, has taken it on.
   *
   * @return false where it was closed meanwhile
   */
  public boolean change(long id, SiteTrouble trouble, Definitions definitions, Instant at) {
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      AlertRow alert = session.get(AlertRow.class, id, LockMode.PESSIMISTIC_WRITE);
      boolean open = alert != null && alert.closed == null;
      if (open) {
        alert.kind = trouble.kind().word();
        alert.title = Shorten.text(trouble.title(), 300);
        alert.text = Shorten.text(trouble.text(), 2_000);
        session.update(alert);
        tell(AlertStepRow.of(alert, "changed", "", alert.text, at), trouble, definitions, session);
      }
      transaction.commit();
      return open;
    }
  }

  private static void tell(
      AlertStepRow step, SiteTrouble trouble, Definitions definitions, StatelessSession session) {
    session.insert(step);
    for (String name : trouble.recipients()) {
      definitions
          .recipient(name)
          .filter(recipient -> recipient.receives().contains(trouble.kind()))
          .ifPresent(recipient -> send(step, recipient, step.at, session));
    }
  }

  private static Set<String> recipients(Stream stream) {
    Set<String> names = new LinkedHashSet<>();
    names.add(stream.owner());
    names.addAll(stream.alertsTo());
    return names;
  }

  private static void send(
      AlertStepRow step, Recipient recipient, Instant at, StatelessSession session) {
    recipient.mail().forEach(address -> send(step, recipient, "mail", address, at, session));
    if (!recipient.webhook().isEmpty()) {
      send(step, recipient, "webhook", recipient.webhook(), at, session);
    }
  }

  private static void send(
      AlertStepRow step,
      Recipient recipient,
      String channel,
      String address,
      Instant at,
      StatelessSession session) {
    DeliveryRow delivery = new DeliveryRow();
    delivery.alert = step.alert;
    delivery.step = step.id;
    delivery.recipient = recipient.name();
    delivery.channel = channel;
    delivery.address = address;
    delivery.state = "pending";
    delivery.nextTry = at;
    delivery.lastError = "";
    session.insert(delivery);
  }

  private static void close(Instruction.CloseAlert close, Instant at, StatelessSession session) {
    session
        .createMutationQuery(
            "insert into AlertStepRow (alert, at, what, kind, who, text)"
                + " select a.id, :at, 'closed', a.kind, '', :because from AlertRow a"
                + " where a.run = :run and a.kind = :kind and a.closed is null")
        .setParameter("at", at)
        .setParameter("because", close.text())
        .setParameter("run", close.run())
        .setParameter("kind", close.kind().word())
        .executeUpdate();
    session
        .createMutationQuery(
            "update AlertRow a set a.closed = :at, a.closedBecause = :because"
                + " where a.run = :run and a.kind = :kind and a.closed is null")
        .setParameter("at", at)
        .setParameter("because", close.text())
        .setParameter("run", close.run())
        .setParameter("kind", close.kind().word())
        .executeUpdate();
  }
}
