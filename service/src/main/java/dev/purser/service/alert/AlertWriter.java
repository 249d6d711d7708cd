package dev.purser.service.alert;

import dev.purser.core.alert.AlertAct;
import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.alert.AlertText;
import dev.purser.core.alert.Urgency;
import dev.purser.core.alerting.RunJudge;
import dev.purser.core.board.AlertCause;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.Instruction;
import dev.purser.core.plan.RunReference;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.event.HappeningRow;
import jakarta.persistence.EntityManagerFactory;
import java.time.Instant;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.ToLongFunction;
import java.util.function.UnaryOperator;
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
   * What has happened in a turn.
   *
   * @param text what an alert that is opened says
   * @param cause the key of what it comes of
   * @param specs the runs that were touched, by id
   * @param statuses how they stand at the end of the turn
   * @param usual how long a job usually takes, in milliseconds; 0 where too little is known
   * @param now epoch milliseconds
   */
  public record Happened(
      List<Instruction> instructions,
      Function<Instruction.OpenAlert, String> text,
      Function<Instruction.OpenAlert, String> cause,
      Map<Long, RunSpec> specs,
      Map<Long, RunStatus> statuses,
      Definitions definitions,
      ToLongFunction<String> usual,
      long now) {}

  /** Writes what follows from what has happened: by the board, and by rules. */
  public void write(Happened happened, StatelessSession session) {
    Instruction.Some writing = new Writing(happened, session);
    happened.instructions().forEach(instruction -> instruction.accept(writing));
  }

  /**
   * Writes that a person has done something to a run, where a rule asks to be told of that.
   *
   * @param text what was done, by whom
   * @param now epoch milliseconds
   */
  public void actedOn(
      RunSpec spec,
      RunStatus status,
      String text,
      Definitions definitions,
      long now,
      StatelessSession session) {
    AlertRules.Effective effective =
        definitions.alertRules().ofJob(spec.run().reference().path()).get(AlertKind.ACTED_ON);
    if (!effective.isOff()) {
      Happened happened =
          new Happened(
              List.of(),
              any -> "",
              any -> "",
              Map.of(spec.id(), spec),
              Map.of(spec.id(), status),
              definitions,
              any -> 0,
              now);
      new Writing(happened, session)
          .open(
              new RunJudge.Asked(AlertKind.ACTED_ON, effective.rule(), effective.origin(), text),
              spec,
              "");
    }
  }

  private static final class Writing extends Instruction.Some {
    private final Happened happened;
    private final StatelessSession session;
    private final AlertRules rules;
    private final Instant at;
    private final Set<Long> ended = new HashSet<>();

    Writing(Happened happened, StatelessSession session) {
      this.happened = happened;
      this.session = session;
      this.rules = happened.definitions().alertRules();
      this.at = Instant.ofEpochMilli(happened.now());
    }

    @Override
    public Void visit(Instruction.OpenAlert open) {
      RunSpec spec = happened.specs().get(open.run());
      if (spec != null) {
        AlertRules.Effective effective =
            rules.ofJob(spec.run().reference().path()).get(open.kind());
        if (!effective.isOff()) {
          String text = happened.text().apply(open);
          open(
              new RunJudge.Asked(open.kind(), effective.rule(), effective.origin(), text),
              spec,
              happened.cause().apply(open));
        }
      }
      return null;
    }

    @Override
    public Void visit(Instruction.CloseAlert close) {
      close(close, at, session);
      return null;
    }

    @Override
    public Void visit(Instruction.StartAttempt start) {
      RunStatus status = happened.statuses().get(start.run());
      if (rules.isAnyByRuleOnly() && status != null && status.attempts() == start.attempt()) {
        RunSpec spec = happened.specs().get(start.run());
        if (start.attempt() > 1) {
          for (AlertKind kind : List.of(AlertKind.TOO_QUICK, AlertKind.VALUE)) {
            close(new Instruction.CloseAlert(kind, start.run(), "it runs again"), at, session);
          }
        }
        RunJudge.started(rules.ofJob(spec.run().reference().path()), spec, status)
            .forEach(asked -> open(asked, spec, ""));
      }
      return null;
    }

    @Override
    public Void visit(Instruction.RunChanged changed) {
      RunStatus status = happened.statuses().get(changed.run());
      boolean over =
          status != null
              && status.state().isEnded()
              && status.state() == changed.state()
              && status.since() >= happened.now(); // in this turn, and not only noted anew
      if (rules.isAnyByRuleOnly() && over && ended.add(changed.run())) {
        RunSpec spec = happened.specs().get(changed.run());
        String path = spec.run().reference().path();
        RunJudge.ended(
                rules.ofJob(path),
                spec,
                status,
                happened.usual().applyAsLong(path),
                name -> ValuesBefore.of(session, spec, name))
            .forEach(asked -> open(asked, spec, ""));
      }
      return null;
    }

    private void open(RunJudge.Asked asked, RunSpec spec, String cause) {
      RunReference reference = spec.run().reference();
      Optional<Stream> stream = happened.definitions().streamAt(reference.stream());
      AlertRow alert = new AlertRow();
      alert.kind = asked.kind().word();
      alert.about = AlertSubject.RUN.word();
      alert.run = spec.id();
      alert.reference = reference.toString();
      alert.stream = reference.stream();
      String streamTitle = stream.map(Stream::title).orElse(alert.stream);
      alert.title = Shorten.text(streamTitle + ": " + spec.run().job().title(), 300);
      alert.text = Shorten.text(inWords(asked, spec), 2_000);
      alert.urgency = asked.rule().isUrgent().word();
      alert.rule = Shorten.text(asked.origin(), 300);
      alert.firstAid = happened.definitions().whenItFails(reference.path());
      alert.ownKey = AlertCause.RUN + spec.id();
      alert.cause = cause;
      begin(alert, asked.rule(), at);
      if (asked.kind().isToldOnly()) {
        alert.closed = at;
        alert.closedBecause = "it was to be told, and nobody need act";
      }
      session.insert(alert);
      session.insert(TellingRow.of(alert));
      AlertStepRow step = AlertStepRow.of(alert, "opened", "", alert.text, at);
      session.insert(step);
      Set<String> usual = stream.map(AlertWriter::recipients).orElse(Set.of());
      tell(step, asked.rule(), usual, alert.urgency, happened.definitions(), session);
      act(alert, asked.rule(), text -> filled(text, asked, spec), at, session);
      if (alert.closed != null) {
        session.insert(AlertStepRow.of(alert, "closed", "", alert.closedBecause, at));
      }
    }

    private String inWords(RunJudge.Asked asked, RunSpec spec) {
      return asked.rule().say().isEmpty() ? asked.text() : filled(asked.rule().say(), asked, spec);
    }

    private String filled(String template, RunJudge.Asked asked, RunSpec spec) {
      RunStatus status = happened.statuses().get(spec.id());
      RunReference reference = spec.run().reference();
      return AlertText.fill(
          template,
          name ->
              switch (name) {
                case "title" -> spec.run().job().title();
                case "run" -> reference.toString();
                case "stream" -> reference.stream();
                case "job" -> reference.job();
                case "date" -> reference.date().toString();
                case "kind" -> asked.kind().title();
                case "text" -> asked.text();
                case "host" -> status.where().word();
                case "exit-code" -> status.exitCode() < 0 ? "" : "" + status.exitCode();
                default -> "" + status.attempts();
              },
          name -> Optional.ofNullable(status.values().get(name)));
    }
  }

  /** What the rule does, with its parameters filled in. */
  private static void act(
      AlertRow alert,
      AlertRule rule,
      UnaryOperator<String> filled,
      Instant at,
      StatelessSession session) {
    if (rule.act().isEmpty()) {
      return;
    }
    AlertAct act = rule.act().get();
    Map<String, String> with = new LinkedHashMap<>();
    act.with().forEach((name, text) -> with.put(name, filled.apply(text)));
    AlertAct whole = new AlertAct(act.what(), act.argument(), with, act.after(), act.most());
    session.insert(AlertActRow.of(alert, whole, at));
  }

  private static void begin(AlertRow alert, AlertRule rule, Instant at) {
    alert.opened = at;
    NextLooks looks = NextLooks.of(rule);
    alert.plan = looks.isNone() ? null : looks.toText();
    alert.acknowledgedBy = "";
    alert.closedBecause = "";
  }

  /**
   * Writes an alert about no run, for those whom it matters to; nothing where a rule switches its
   * kind off.
   *
   * @param trouble what is wrong, and whom it matters to
   * @param at when it was found
   * @return whether there is an alert now
   */
  public boolean open(SiteTrouble trouble, Definitions definitions, Instant at) {
    AlertRules.Effective effective = trouble.effective(definitions);
    if (effective.isOff()) {
      return false;
    }
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      AlertRow alert = new AlertRow();
      alert.about = trouble.subject().word();
      alert.reference = trouble.reference();
      alert.stream = trouble.run().map(spec -> spec.run().reference().stream()).orElse("");
      alert.run = trouble.run().map(RunSpec::id).orElse(0L);
      alert.firstAid =
          trouble
              .run()
              .map(spec -> definitions.whenItFails(spec.run().reference().path()))
              .orElse(null);
      alert.ownKey =
          trouble
              .run()
              .map(spec -> AlertCause.RUN + spec.id())
              .orElseGet(() -> Shorten.text(trouble.key(), 500));
      alert.cause = Shorten.text(trouble.cause().get(), 500);
      begin(alert, effective.rule(), at);
      say(alert, trouble, effective);
      session.insert(alert);
      session.insert(TellingRow.of(alert));
      AlertStepRow step = AlertStepRow.of(alert, "opened", "", alert.text, at);
      session.insert(step);
      tell(step, effective.rule(), trouble.recipients(), alert.urgency, definitions, session);
      note(alert, trouble, at, session);
      act(
          alert,
          effective.rule(),
          text -> AlertText.fill(text, name -> fact(name, trouble), any -> Optional.empty()),
          at,
          session);
      transaction.commit();
      return true;
    }
  }

  /** How a commitment stands is told to programs, too. */
  private static void note(
      AlertRow alert, SiteTrouble trouble, Instant at, StatelessSession session) {
    if (trouble.commitment().isPresent()) {
      Map<String, Object> data = new LinkedHashMap<>();
      data.put("title", alert.title);
      data.put("text", alert.text);
      data.put("alert", alert.id);
      session.insert(
          HappeningRow.of(
              "commitments",
              at,
              alert.kind,
              alert.reference,
              trouble.commitment().get().department(),
              data));
    }
  }

  private static void say(AlertRow alert, SiteTrouble trouble, AlertRules.Effective effective) {
    alert.kind = trouble.kind().word();
    alert.title = Shorten.text(trouble.title(), 300);
    String say = effective.rule().say();
    String text =
        say.isEmpty()
            ? trouble.text()
            : AlertText.fill(say, name -> fact(name, trouble), any -> Optional.empty());
    alert.text = Shorten.text(text, 2_000);
    Urgency urgency = effective.rule().urgency().orElse(trouble.urgency());
    alert.urgency = urgency.word();
    alert.rule = Shorten.text(effective.origin(), 300);
  }

  private static String fact(String name, SiteTrouble trouble) {
    return switch (name) {
      case "title" -> trouble.title();
      case "kind" -> trouble.kind().title();
      case "text" -> trouble.text();
      case "run" -> trouble.reference();
      default -> "";
    };
  }

  /**
   * Writes that an alert is of another kind now: whoever receives that kind is told anew. Whoever
   * has taken it on, has taken it on. It is closed where a rule switches the new kind off.
   *
   * @return false where it was closed meanwhile
   */
  public boolean change(long id, SiteTrouble trouble, Definitions definitions, Instant at) {
    AlertRules.Effective effective = trouble.effective(definitions);
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      AlertRow alert = session.get(AlertRow.class, id, LockMode.PESSIMISTIC_WRITE);
      boolean open = alert != null && alert.closed == null;
      if (open && effective.isOff()) {
        alert.closed = at;
        alert.closedBecause = "it is now " + trouble.kind().word() + ", of which nobody is told";
        session.update(alert);
        session.insert(AlertStepRow.of(alert, "closed", "", alert.closedBecause, at));
      } else if (open) {
        say(alert, trouble, effective);
        session.update(alert);
        AlertStepRow step = AlertStepRow.of(alert, "changed", "", alert.text, at);
        session.insert(step);
        tell(step, effective.rule(), trouble.recipients(), alert.urgency, definitions, session);
        note(alert, trouble, at, session);
      }
      transaction.commit();
      return open;
    }
  }

  /** Those whom the rule names, else those who are told without one. */
  private static void tell(
      AlertStepRow step,
      AlertRule rule,
      Set<String> usual,
      String urgency,
      Definitions definitions,
      StatelessSession session) {
    for (String name : rule.tell().isEmpty() ? usual : new LinkedHashSet<>(rule.tell())) {
      if (definitions.isAddressee(name)) {
        session.insert(NoticeRow.of(step, name, "rule", urgency));
      }
    }
  }

  private static Set<String> recipients(Stream stream) {
    Set<String> names = new LinkedHashSet<>();
    names.add(stream.owner());
    names.addAll(stream.alertsTo());
    return names;
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
