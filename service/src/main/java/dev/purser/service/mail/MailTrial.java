package dev.purser.service.mail;

import dev.purser.core.definition.ConnectionKind;
import dev.purser.remote.http.Site;
import dev.purser.service.call.Sites;
import dev.purser.service.channel.MailErrors;
import dev.purser.service.connection.ConnectionTrial;
import jakarta.mail.MessagingException;
import java.io.IOException;
import java.util.List;
import java.util.Set;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;

/** Tries a mail server: connects and signs in; no mail is sent. */
@Component
class MailTrial implements ConnectionTrial {
  private final Sites sites;

  MailTrial(Sites sites) {
    this.sites = sites;
  }

  @Override
  public Set<ConnectionKind> tries() {
    return Set.of(ConnectionKind.MAIL);
  }

  @Override
  public Outcome of(Site site, String path) {
    try {
      JavaMailSenderImpl sender = MailServers.sender(site, sites);
      try {
        sender.testConnection();
      } catch (MessagingException e) {
        return new Outcome(
            false,
            List.of(
                site.without(
                    new MailErrors(sender, "its connection's user and secret").inWords(e))));
      }
      String who = site.connection().user();
      return new Outcome(
          true, List.of(who.isEmpty() ? "it answers" : "it answers, and lets " + who + " in"));
    } catch (IOException e) {
      return new Outcome(false, List.of(e.getMessage()));
    }
  }
}
