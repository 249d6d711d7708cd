package dev.purser.service.care;

import dev.purser.service.board.Engine;
import jakarta.mail.MessagingException;
import java.util.List;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;

/** Looks whether the mail server takes mail. */
@Component
class MailLook implements Look {
  private final Engine engine;
  private final JavaMailSenderImpl mail;

  MailLook(Engine engine, JavaMailSenderImpl mail) {
    this.engine = engine;
    this.mail = mail;
  }

  @Override
  public String about() {
    return "mail";
  }

  @Override
  public List<Finding> find() {
    if (InUse.recipients(engine).stream().allMatch(one -> one.addresses("mail").isEmpty())) {
      return List.of(Finding.good("mail", "nobody is told by mail"));
    }
    String server = mail.getHost() + ":" + mail.getPort();
    try {
      mail.testConnection();
      return List.of(Finding.good("mail", "the server at " + server + " takes mail"));
    } catch (MessagingException e) {
      return List.of(
          Finding.bad(
              "mail",
              "the server at " + server + " takes none: " + e.getMessage(),
              "see PURSER_MAIL_HOST and PURSER_MAIL_PORT; alerts wait until it does"));
    }
  }
}
