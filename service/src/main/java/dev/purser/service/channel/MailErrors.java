package dev.purser.service.channel;

import jakarta.mail.SendFailedException;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import javax.net.ssl.SSLException;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.mail.MailAuthenticationException;
import org.springframework.mail.MailException;
import org.springframework.mail.MailSendException;
import org.springframework.mail.javamail.JavaMailSender;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;

/** The mail server: whether it is there, and what it means where it takes no mail. */
@Component
public class MailErrors {
  private static final int MILLIS_TO_REACH = 5_000;

  private final JavaMailSender sender;
  private final String signIn;

  /** Of the service's own sender. */
  @Autowired
  MailErrors(JavaMailSender sender) {
    this(sender, "PURSER_MAIL_USER and PURSER_MAIL_PASSWORD");
  }

  /**
   * Of another one.
   *
   * @param signIn where one looks when it refuses the sign-in
   */
  public MailErrors(JavaMailSender sender, String signIn) {
    this.sender = sender;
    this.signIn = signIn;
  }

  private String server() {
    return sender instanceof JavaMailSenderImpl known
        ? "the mail server at " + known.getHost() + ":" + known.getPort()
        : "the mail server";
  }

  /**
   * Knocks at it.
   *
   * @throws IOException where it is not there
   */
  public void reach() throws IOException {
    if (sender instanceof JavaMailSenderImpl known) {
      try (Socket socket = new Socket()) {
        socket.connect(
            new InetSocketAddress(String.valueOf(known.getHost()), known.getPort()),
            MILLIS_TO_REACH);
      } catch (IOException e) {
        throw new IOException(server() + " cannot be reached: " + e.getMessage(), e);
      }
    }
  }

  /** Whether the server has said that it does not take it: then it has not gone to anybody. */
  public boolean isRefused(MailException failure) {
    if (failure instanceof MailAuthenticationException) {
      return true;
    }
    return root(failure) instanceof SendFailedException refused
        && (refused.getValidSentAddresses() == null || refused.getValidSentAddresses().length == 0);
  }

  private static Throwable root(Exception e) {
    return e instanceof MailSendException sending && sending.getMessageExceptions().length > 0
        ? sending.getMessageExceptions()[0]
        : e;
  }

  /** Why a mail was not taken, without the library's own words around what the server said. */
  public String inWords(Exception e) {
    String server = server();
    if (e instanceof MailAuthenticationException) {
      return server + " refuses the sign-in; see " + signIn;
    }
    Throwable root = root(e);
    while (root.getCause() != null && root.getCause() != root) {
      if (root instanceof SSLException) {
        return server + " is not trusted: its certificate is of an authority unknown here";
      }
      root = root.getCause();
    }
    String said = String.valueOf(root.getMessage()).lines().findFirst().orElse("").strip();
    return root instanceof IOException
        ? server + " cannot be reached: " + said
        : server + " did not take it: " + said;
  }
}
