package dev.purser.service.alert;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.alert.Urgency;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.run.RunSpec;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;

/**
 * Something that is wrong with the site now: a host, a file, a calendar, a promise.
 *
 * @param kind the kind of its alert
 * @param reference what it is about, the same for as long as it lasts, such as {@code host depot}
 * @param subject what that is
 * @param title what people call it
 * @param text what is wrong, as the end of a sentence
 * @param recipients names of those who are told without a rule, as far as they are defined
 * @param commitment the commitment that it is about; empty for all else
 * @param run the run that it is about; empty for all else
 * @param of whose rules hold, where it is about neither commitment nor run
 * @param cause asked when an alert is opened: the key of what it comes of; empty for nothing else
 */
public record SiteTrouble(
    AlertKind kind,
    String reference,
    AlertSubject subject,
    String title,
    String text,
    Set<String> recipients,
    Optional<Commitment> commitment,
    Optional<RunSpec> run,
    Of of,
    Supplier<String> cause) {
  /** Something that is not about a commitment. */
  public SiteTrouble(
      AlertKind kind,
      String reference,
      AlertSubject subject,
      String title,
      String text,
      Set<String> recipients) {
    this(
        kind,
        reference,
        subject,
        title,
        text,
        recipients,
        Optional.empty(),
        Optional.empty(),
        Of.SITE,
        () -> "");
  }

  /** The rules that hold for it. */
  AlertRules.Effective effective(Definitions definitions) {
    AlertRules rules = definitions.alertRules();
    return commitment
        .map(rules::of)
        .or(() -> run.map(spec -> rules.ofJob(spec.run().reference().path())))
        .orElseGet(() -> of.rules(rules, definitions))
        .get(kind);
  }

  /** What has rules of its own: a file watch, a host, or the site only. */
  public record Of(Thing thing, String name) {
    private enum Thing {
      SITE,
      HOST,
      WATCH
    }

    /** Nothing but the site. */
    public static final Of SITE = new Of(Thing.SITE, "");

    /** A host, of which its groups may say something. */
    public static Of host(String name) {
      return new Of(Thing.HOST, name);
    }

    /** A file watch. */
    public static Of watch(String name) {
      return new Of(Thing.WATCH, name);
    }

    private Map<AlertKind, AlertRules.Effective> rules(AlertRules rules, Definitions definitions) {
      return switch (thing) {
        case HOST -> rules.ofHost(name);
        case WATCH -> definitions.fileWatch(name).map(rules::of).orElseGet(rules::ofSite);
        case SITE -> rules.ofSite();
      };
    }
  }

  /** The same, as one of several about one thing: the first that is open stands for all. */
  public SiteTrouble oneOfSeveral() {
    String key = key();
    return new SiteTrouble(
        kind, reference, subject, title, text, recipients, commitment, run, of, () -> key);
  }

  /** The same, with rules that are nearer than the site's. */
  public SiteTrouble by(Of nearer) {
    return new SiteTrouble(
        kind, reference, subject, title, text, recipients, commitment, run, nearer, cause);
  }

  /** The key that alerts have as their cause which come of this. */
  String key() {
    if (subject != AlertSubject.FILES) {
      return reference;
    }
    int end = reference.indexOf('@') > 0 ? reference.indexOf('@') : reference.indexOf(" on ");
    return end > 0 ? reference.substring(0, end) : reference;
  }

  /** How urgent it is where no rule says so. */
  Urgency urgency() {
    return commitment
        .filter(Commitment::important)
        .map(any -> Urgency.URGENT)
        .orElse(kind.urgency());
  }

  /** That a run waits, which matters to whoever gets its stream's alerts. */
  public static SiteTrouble ofWaiting(
      AlertKind kind, RunSpec run, String text, Set<String> recipients, String cause) {
    return new SiteTrouble(
        kind,
        run.run().reference().toString(),
        AlertSubject.WAIT,
        run.run().job().title(),
        text,
        recipients,
        Optional.empty(),
        Optional.of(run),
        Of.SITE,
        () -> cause);
  }

  /** Copies the set. */
  public SiteTrouble {
    recipients = Set.copyOf(recipients);
  }

  /** Something that matters to streams: whoever gets their alerts is told. */
  public SiteTrouble(
      AlertKind kind,
      String reference,
      AlertSubject subject,
      String title,
      String text,
      List<Stream> streams) {
    this(kind, reference, subject, title, text, recipients(streams));
  }

  private static Set<String> recipients(List<Stream> streams) {
    Set<String> names = new LinkedHashSet<>();
    for (Stream stream : streams) {
      names.add(stream.owner());
      names.addAll(stream.alertsTo());
    }
    return names;
  }
}
