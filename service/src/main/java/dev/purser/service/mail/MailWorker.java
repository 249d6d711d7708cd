package dev.purser.service.mail;

import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.kind.MailKind;
import dev.purser.core.mail.Mail;
import dev.purser.core.run.Ending;
import dev.purser.service.Settings;
import dev.purser.service.channel.MailErrors;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.BegunAttempts;
import dev.purser.service.work.Fillings;
import dev.purser.service.work.Reports;
import dev.purser.service.work.Worker;
import jakarta.annotation.PreDestroy;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.mail.MailException;
import org.springframework.mail.javamail.JavaMailSender;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.stereotype.Component;

/**
 * Sends mails that are steps. Whether a mail that was cut off has gone cannot be asked: so it is
 * lost, and sent again only where its job says that it may be repeated.
 */
@Component
public class MailWorker implements Worker {
  private static final Logger LOG = LoggerFactory.getLogger(MailWorker.class);
  private static final int THREADS = 2;
  private static final long AGAIN_MILLIS = 5_000;
  private static final Duration BEARS = Duration.ofMinutes(15);
  private static final String UNKNOWN = "nobody knows whether it has gone";
  private static final String LOST =
      "Purser was cut off while it was handed to the mail server, and nobody knows whether it has"
          + " gone";

  private final JavaMailSender sender;
  private final MailErrors errors;
  private final Settings settings;
  private final BegunAttempts records;
  private final Attachments attachments;
  private final Fillings fillings;
  private final Reports reports;
  private final Clock clock;
  private final Set<Going> going = ConcurrentHashMap.newKeySet();
  private final ScheduledExecutorService threads;

  MailWorker(
      JavaMailSender sender,
      MailErrors errors,
      Settings settings,
      BegunAttempts records,
      Attachments attachments,
      Fillings fillings,
      Reports reports,
      Clock clock) {
    this.sender = sender;
    this.errors = errors;
    this.settings = settings;
    this.records = records;
    this.attachments = attachments;
    this.fillings = fillings;
    this.reports = reports;
    this.clock = clock;
    this.threads =
        Executors.newScheduledThreadPool(
            THREADS,
            work -> {
              Thread thread = new Thread(work, "mails");
              thread.setDaemon(true);
              return thread;
            });
  }

  /** An attempt that is going on here. */
  private static final class Going {
    private final Attempt attempt;
    private Instant awaySince;
    private volatile BegunAttempts.Ended ended;
    private volatile boolean stopped;
    private volatile boolean letGo;

    Going(Attempt attempt) {
      this.attempt = attempt;
    }
  }

  @PreDestroy
  void close() {
    letGo();
    threads.shutdownNow();
  }

  @Override
  public boolean takes(Work work, Where where) {
    return work instanceof Mail && where instanceof Where.InService;
  }

  @Override
  public void start(Attempt attempt) {
    Going one = new Going(attempt);
    going.add(one);
    threads.execute(() -> orAgain(one));
  }

  @Override
  public void takeUp(Attempt attempt) {
    start(attempt);
  }

  private void orAgain(Going one) {
    if (one.letGo || threads.isShutdown()) {
      return;
    }
    try {
      carryOut(one);
    } catch (RuntimeException e) {
      LOG.warn("a mail cannot go on now, and is tried again: {}", e.getMessage());
      again(one);
    }
  }

  private void again(Going one) {
    if (!threads.isShutdown()) {
      threads.schedule(() -> orAgain(one), AGAIN_MILLIS, TimeUnit.MILLISECONDS);
    }
  }

  private void carryOut(Going one) {
    if (one.ended != null) {
      put(one);
      return;
    }
    Attempt attempt = one.attempt;
    BegunAttempts.Known known = records.of(attempt.id(), attempt.number());
    if (known.ended().isPresent()) {
      one.ended = known.ended().get();
      put(one);
    } else if (known.begun()) {
      over(one, new Ending(Ending.Kind.LOST, -1, LOST), Map.of());
    } else if (one.stopped) {
      over(one, new Ending(Ending.Kind.EXITED, 143, "stopped before it was sent"), Map.of());
    } else {
      send(one);
    }
  }

  private void send(Going one) {
    Attempt attempt = one.attempt;
    MimeMessage message;
    String to;
    try {
      Mail mail = (Mail) attempt.run().run().job().work();
      Mail filled =
          fillings.of(
              attempt,
              filling ->
                  new Mail(
                      filling.text(mail.to()),
                      filling.text(mail.subject()),
                      filling.text(mail.text()),
                      mail.attached()));
      message = message(attempt, filled);
      to = filled.to();
    } catch (Unfillable e) {
      over(one, new Ending(Ending.Kind.NO_VALUE, -1, e.getMessage()), Map.of());
      return;
    } catch (IOException | MessagingException e) {
      over(one, new Ending(Ending.Kind.NOT_STARTED, -1, e.getMessage()), Map.of());
      return;
    }
    hand(one, message, to);
  }

  private MimeMessage message(Attempt attempt, Mail mail) throws MessagingException, IOException {
    MimeMessage mime = sender.createMimeMessage();
    MimeMessageHelper helper = new MimeMessageHelper(mime, true, "UTF-8");
    helper.setFrom(settings.mailFrom());
    helper.setTo(addresses(mail.to()));
    helper.setSubject(mail.subject().replaceAll("\\p{Cntrl}", " "));
    helper.setText(mail.text());
    mime.setHeader("Auto-Submitted", "auto-generated");
    attachments.add(attempt, mail, helper);
    return mime;
  }

  private static String[] addresses(String to) {
    List<String> all = Arrays.stream(to.split(",")).map(String::strip).toList();
    for (String one : all) {
      if (!MailKind.isAddress(one)) {
        throw new Unfillable("\"" + one + "\" is not an address of mail");
      }
    }
    return all.toArray(String[]::new);
  }

  private void hand(Going one, MimeMessage message, String to) {
    Attempt attempt = one.attempt;
    try {
      errors.reach(); // nothing is handed over where nobody is there
    } catch (IOException e) {
      away(one, e.getMessage());
      return;
    }
    records.begin(attempt.id(), attempt.number());
    reports.began(attempt);
    try {
      sender.send(message);
      reports.output(attempt, "the mail server took it, for " + to + "\n");
      one.ended = new BegunAttempts.Ended(Ending.exited(0), Map.of("sent-to", to));
    } catch (MailException e) {
      one.ended =
          new BegunAttempts.Ended(
              errors.isRefused(e)
                  ? new Ending(Ending.Kind.EXITED, Mail.REFUSED, errors.inWords(e))
                  : new Ending(Ending.Kind.LOST, -1, errors.inWords(e) + "; " + UNKNOWN),
              Map.of());
    }
    put(one);
  }

  private void away(Going one, String why) {
    Instant now = clock.instant();
    if (one.awaySince == null) {
      one.awaySince = now;
      reports.output(one.attempt, why + "; borne for 15m\n");
      reports.told(one.attempt, why, false);
    }
    if (now.isBefore(one.awaySince.plus(BEARS))) {
      again(one);
    } else {
      over(one, new Ending(Ending.Kind.NOT_STARTED, -1, why), Map.of());
    }
  }

  private void over(Going one, Ending ending, Map<String, String> values) {
    one.ended = new BegunAttempts.Ended(ending, values);
    put(one);
  }

  /** Until it is on record. */
  private void put(Going one) {
    Attempt attempt = one.attempt;
    records.end(attempt.id(), attempt.number(), one.ended);
    reports
        .ended(attempt, one.ended.ending(), one.ended.values())
        .whenComplete(
            (done, failure) -> {
              if (failure == null) {
                going.remove(one);
              } else {
                again(one);
              }
            });
  }

  /** What has been handed over cannot be taken back. */
  @Override
  public void stop(Attempt attempt, Duration grace) {
    going.stream()
        .filter(one -> one.attempt.id() == attempt.id() && one.attempt.number() == attempt.number())
        .forEach(one -> one.stopped = true);
  }

  @Override
  public void letGo() {
    going.forEach(one -> one.letGo = true);
    going.clear();
  }
}
