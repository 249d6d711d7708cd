package dev.purser.service.alert;

import dev.purser.core.alert.Urgency;
import dev.purser.service.Settings;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import org.springframework.mail.MailException;
import org.springframework.mail.javamail.JavaMailSender;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.stereotype.Component;

/** E-mail over SMTP. */
@Component
class MailChannel implements Channel {
  private final JavaMailSender sender;
  private final Settings settings;

  MailChannel(JavaMailSender sender, Settings settings) {
    this.sender = sender;
    this.settings = settings;
  }

  @Override
  public String name() {
    return "mail";
  }

  @Override
  public void deliver(Told told, String address, String deliveryId) throws DeliveryFailed {
    try {
      MimeMessage message = new Identified(sender.createMimeMessage(), deliveryId);
      MimeMessageHelper mail = new MimeMessageHelper(message, "UTF-8");
      mail.setFrom(settings.mailFrom());
      mail.setTo(address);
      mail.setSubject("[" + urgent(told) + told.kind() + "] " + told.alert().title);
      mail.setText(text(told));
      sender.send(message);
    } catch (MessagingException | MailException e) {
      throw new DeliveryFailed(String.valueOf(e.getMessage()), e);
    }
  }

  private static String urgent(Told told) {
    return Urgency.URGENT.word().equals(told.alert().urgency) ? "urgent: " : "";
  }

  private String text(Told told) {
    AlertRow alert = told.alert();
    ZoneId zone = settings.zone();
    String since =
        DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss zzz").format(told.at().atZone(zone));
    return """
        %s

        %s

        about:  %s
        since:  %s
        look:   %s%s
        more:   purser %s
        """
        .formatted(
            alert.title,
            told.text(),
            alert.reference,
            since,
            settings.consoleAddress(),
            alert.page(),
            alert.run == 0 ? "alerts" : "why '" + alert.reference + "'");
  }

  /** A message that keeps its id when it is sent again. */
  private static final class Identified extends MimeMessage {
    private final String id;

    Identified(MimeMessage empty, String id) {
      super(empty.getSession());
      this.id = id;
    }

    @Override
    protected void updateMessageID() throws MessagingException {
      setHeader("Message-ID", "<" + id + "@purser>");
    }
  }
}
