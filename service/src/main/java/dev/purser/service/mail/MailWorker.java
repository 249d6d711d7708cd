package dev.purser.service.mail;

import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.kind.MailKind;
import dev.purser.core.mail.Mail;
import dev.purser.core.run.Ending;
import dev.purser.remote.http.Road;
import dev.purser.service.board.Engine;
import dev.purser.service.channel.MailErrors;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.BegunAttempts;
import dev.purser.service.work.BlockingWorker;
import dev.purser.service.work.Fillings;
import dev.purser.service.work.Reports;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.springframework.mail.MailException;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.stereotype.Component;

/**
 * Sends mails that are steps. Whether a mail that was cut off has gone cannot be asked: so it is
 * lost, and sent again only where its job says that it may be repeated.
 */
@Component
public class MailWorker extends BlockingWorker {
  private static final int THREADS = 2;
  private static final Duration BEARS = Duration.ofMinutes(15);
  private static final String UNKNOWN = "nobody knows whether it has gone";
  private static final String LOST =
      "Purser was cut off while it was handed to the mail server, and nobody knows whether it has"
          + " gone";

  private final MailServers servers;
  private final Engine engine;
  private final BegunAttempts records;
  private final Attachments attachments;
  private final Fillings fillings;
  private final Reports reports;

  MailWorker(
      MailServers servers,
      Engine engine,
      BegunAttempts records,
      Attachments attachments,
      Fillings fillings,
      Reports reports,
      Clock clock) {
    super("mails", THREADS, records, reports, clock);
    this.servers = servers;
    this.engine = engine;
    this.records = records;
    this.attachments = attachments;
    this.fillings = fillings;
    this.reports = reports;
  }

  @Override
  public boolean takes(Work work, Where where) {
    return work instanceof Mail && where instanceof Where.InService;
  }

  @Override
  protected void carryOut(Going one) {
    if (records.of(one.attempt().id(), one.attempt().number()).begun()) {
      over(one, new Ending(Ending.Kind.LOST, -1, LOST), Map.of());
    } else if (one.isStopped()) { // what has been handed over cannot be taken back
      over(one, new Ending(Ending.Kind.EXITED, 143, "stopped before it was sent"), Map.of());
    } else {
      send(one);
    }
  }

  private void send(Going one) {
    Attempt attempt = one.attempt();
    MimeMessage message;
    MailServers.Server server;
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
                      mail.attached(),
                      mail.over()));
      server = servers.of(mail, attempt, engine.definitions());
      message = message(attempt, filled, server);
      to = filled.to();
    } catch (Unfillable e) {
      over(one, new Ending(Ending.Kind.NO_VALUE, -1, e.getMessage()), Map.of());
      return;
    } catch (Road.BlockedException e) {
      away(one, e.getMessage(), BEARS);
      return;
    } catch (IOException | MessagingException e) {
      over(one, new Ending(Ending.Kind.NOT_STARTED, -1, e.getMessage()), Map.of());
      return;
    }
    hand(one, message, to, server);
  }

  private MimeMessage message(Attempt attempt, Mail mail, MailServers.Server server)
      throws MessagingException, IOException {
    MimeMessage mime = server.sender().createMimeMessage();
    MimeMessageHelper helper = new MimeMessageHelper(mime, true, "UTF-8");
    helper.setFrom(server.from());
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

  private void hand(Going one, MimeMessage message, String to, MailServers.Server server) {
    MailErrors errors = server.errors();
    Attempt attempt = one.attempt();
    try {
      errors.reach(); // nothing is handed over where nobody is there
    } catch (IOException e) {
      away(one, e.getMessage(), server.bearsOutage());
      return;
    }
    records.begin(attempt.id(), attempt.number());
    reports.began(attempt);
    try {
      server.sender().send(message);
    } catch (MailException e) {
      over(
          one,
          errors.isRefused(e)
              ? new Ending(Ending.Kind.EXITED, Mail.REFUSED, errors.inWords(e))
              : new Ending(Ending.Kind.LOST, -1, errors.inWords(e) + "; " + UNKNOWN),
          Map.of());
      return;
    }
    over(one, Ending.exited(0), Map.of("sent-to", to));
  }
}
