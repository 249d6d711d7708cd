package dev.purser.service.mail;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.mail.Mail;
import dev.purser.remote.http.Ports;
import dev.purser.remote.http.Road;
import dev.purser.remote.http.Site;
import dev.purser.service.Settings;
import dev.purser.service.call.Sites;
import dev.purser.service.channel.MailErrors;
import dev.purser.service.work.Attempt;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.time.Duration;
import java.util.Properties;
import org.springframework.mail.javamail.JavaMailSender;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;

/** The mail servers over which mails go: the service's own, and those of connections. */
@Component
class MailServers {
  private static final Duration USUAL = Duration.ofMinutes(15);
  private static final String MILLIS = "10000";

  private final JavaMailSender own;
  private final MailErrors errors;
  private final Settings settings;
  private final Sites sites;

  MailServers(JavaMailSender own, MailErrors errors, Settings settings, Sites sites) {
    this.own = own;
    this.errors = errors;
    this.settings = settings;
    this.sites = sites;
  }

  /**
   * One of them.
   *
   * @param from who is named as the sender
   * @param bearsOutage how long it may be away
   */
  record Server(JavaMailSender sender, MailErrors errors, String from, Duration bearsOutage) {}

  /**
   * The server for a mail.
   *
   * @throws IOException where it may not be used
   */
  Server of(Mail mail, Attempt attempt, Definitions all) throws IOException {
    if (mail.over().isEmpty()) {
      return new Server(own, errors, settings.mailFrom(), USUAL);
    }
    Site site = sites.use(all, mail.over(), attempt);
    JavaMailSender sender = sender(site, sites);
    Connection connection = site.connection();
    String from = connection.user().contains("@") ? connection.user() : settings.mailFrom();
    return new Server(
        sender,
        new MailErrors(sender, "its connection's user and secret"),
        from,
        connection.bearsOutage());
  }

  /** What sends over a connection. */
  static JavaMailSenderImpl sender(Site site, Sites sites) throws IOException {
    Connection connection = site.connection();
    URI address = URI.create(connection.address());
    int port = Ports.of(address);
    Road road = site.road();
    if (road.isDirect()) {
      sites.gate().check(URI.create(address.getScheme() + "://" + address.getHost() + ":" + port));
    }
    InetSocketAddress where = road.to(address.getHost(), port);
    JavaMailSenderImpl sender = new JavaMailSenderImpl();
    sender.setHost(where.getHostString());
    sender.setPort(where.getPort());
    boolean signsIn = !connection.user().isEmpty() && !site.secret().isEmpty();
    if (signsIn) {
      sender.setUsername(connection.user());
      sender.setPassword(site.secret());
    }
    Properties all = sender.getJavaMailProperties();
    all.setProperty("mail.smtp.auth", String.valueOf(signsIn));
    all.setProperty("mail.smtp.connectiontimeout", MILLIS);
    all.setProperty("mail.smtp.timeout", MILLIS);
    all.setProperty("mail.smtp.writetimeout", MILLIS);
    boolean own = InetAddress.getByName(where.getHostString()).isLoopbackAddress();
    all.setProperty("mail.smtp.starttls.enable", "true");
    // a password does not leave this machine in plain text
    all.setProperty(
        "mail.smtp.starttls.required",
        String.valueOf(signsIn && !own && address.getScheme().equals("smtp")));
    all.setProperty("mail.smtp.ssl.enable", String.valueOf(address.getScheme().equals("smtps")));
    all.setProperty("mail.smtp.ssl.checkserveridentity", String.valueOf(road.isDirect()));
    return sender;
  }
}
