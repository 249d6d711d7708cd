package dev.purser.service.channel;

import dev.purser.core.alert.AlertText;
import dev.purser.core.definition.Way;
import dev.purser.service.Settings;
import dev.purser.service.alert.Channel;
import dev.purser.service.alert.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import org.springframework.mail.MailException;
import org.springframework.mail.javamail.JavaMailSender;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.stereotype.Component;
import org.springframework.web.util.HtmlUtils;

/** E-mail over SMTP: text and HTML, all of one alert in one conversation. */
@Component
class MailChannel implements Channel {
  private static final DateTimeFormatter AT =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss VV", Locale.ROOT);

  private final JavaMailSender sender;
  private final MailErrors errors;
  private final Settings settings;

  MailChannel(JavaMailSender sender, MailErrors errors, Settings settings) {
    this.errors = errors;
    this.sender = sender;
    if (sender instanceof JavaMailSenderImpl known
        && known.getUsername() != null
        && !known.getUsername().isEmpty()) {
      known.getJavaMailProperties().setProperty("mail.smtp.auth", "true");
    }
    this.settings = settings;
  }

  @Override
  public String name() {
    return "mail";
  }

  @Override
  public String deliver(Message message, Way way) throws DeliveryFailed {
    try {
      MimeMessage mime = new Identified(sender.createMimeMessage(), message.id());
      MimeMessageHelper mail = new MimeMessageHelper(mime, true, "UTF-8");
      mail.setFrom(settings.mailFrom());
      mail.setTo(way.address());
      mail.setSubject(subject(message, way).replaceAll("\\p{Cntrl}", " "));
      body(mail, message, way);
      if (message.thread().isPresent()) {
        String first = "<" + message.thread().get() + "@purser>";
        mime.setHeader("In-Reply-To", first);
        mime.setHeader("References", first);
      }
      if (message.urgency().equals("urgent")) {
        mail.setPriority(1);
      }
      mime.setHeader("Auto-Submitted", "auto-generated");
      sender.send(mime);
      return "the mail server took it";
    } catch (MessagingException | MailException e) {
      throw new DeliveryFailed(errors.inWords(e), e);
    }
  }

  private static String subject(Message message, Way way) {
    String own = way.option("subject");
    String filled = own.isEmpty() ? "" : AlertText.fillMessage(own, message::fact).strip();
    if (filled.isEmpty()) {
      return message.subject();
    }
    return message.what().equals("test") ? "[test] " + filled : filled;
  }

  /** In the recipient's own words these are all that a mail says. */
  private void body(MimeMessageHelper mail, Message message, Way way) throws MessagingException {
    String own = way.option("text");
    if (own.isEmpty() || message.what().equals("digest")) {
      mail.setText(text(message), html(message));
    } else {
      String text = AlertText.fillMessage(own, message::fact);
      mail.setText(text, "<!doctype html><html><body>" + lines(text) + "</body></html>");
    }
  }

  private String at(Message message) {
    ZoneId zone = settings.zone();
    return AT.format(message.at().atZone(zone));
  }

  private String text(Message message) {
    StringBuilder out = new StringBuilder();
    out.append(message.title()).append("\n\n").append(message.text()).append("\n\n");
    if (!message.firstAid().isEmpty()) {
      out.append("what to do:\n").append(message.firstAid().indent(2)).append('\n');
    }
    if (!message.parts().isEmpty()) {
      out.append(message.what().equals("digest") ? "" : "part of it, " + message.count() + ":\n");
      message.parts().forEach(part -> out.append("  - ").append(part).append('\n'));
      out.append('\n');
    }
    out.append("about:  ").append(message.about()).append('\n');
    out.append("since:  ").append(at(message)).append('\n');
    out.append("look:   ").append(message.link()).append('\n');
    out.append("more:   ").append(message.command()).append('\n');
    if (!message.rule().isEmpty()) {
      out.append("rule:   ").append(message.rule()).append('\n');
    }
    return out.toString();
  }

  private String html(Message message) {
    String colour =
        switch (message.urgency()) {
          case "urgent" -> "#8a1c1c";
          case "note" -> "#3d4a57";
          default -> "#7a4d00";
        };
    StringBuilder out = new StringBuilder(1_000);
    out.append("<!doctype html><html><body style=\"font-family:sans-serif;color:#1b1f23\">");
    out.append("<p style=\"margin:0;color:").append(colour).append("\"><b>");
    out.append(escape(message.subject())).append("</b></p>");
    out.append("<p>").append(lines(message.text())).append("</p>");
    if (!message.firstAid().isEmpty()) {
      out.append("<p><b>What to do</b><br>").append(lines(message.firstAid())).append("</p>");
    }
    if (!message.parts().isEmpty()) {
      out.append("<ul>");
      message.parts().forEach(part -> out.append("<li>").append(escape(part)).append("</li>"));
      out.append("</ul>");
    }
    out.append("<p><a href=\"").append(escape(message.link())).append("\">");
    out.append(escape(message.about())).append("</a>, ").append(escape(at(message)));
    out.append("</p><p style=\"color:#57606a\"><code>").append(escape(message.command()));
    out.append("</code></p></body></html>");
    return out.toString();
  }

  private static String lines(String text) {
    return escape(text).replace("\n", "<br>");
  }

  private static String escape(String text) {
    return HtmlUtils.htmlEscape(text, "UTF-8");
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
