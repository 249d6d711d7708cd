package dev.purser.service.channel;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.definition.Way;
import dev.purser.service.alert.Channel;
import jakarta.mail.Session;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.net.InetAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.concurrent.CopyOnWriteArrayList;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.subethamail.smtp.auth.EasyAuthenticationHandlerFactory;
import org.subethamail.smtp.auth.LoginFailedException;
import org.subethamail.smtp.helper.SimpleMessageListener;
import org.subethamail.smtp.server.SMTPServer;

/** Mail through a real SMTP server that wants STARTTLS and a sign-in. */
class MailChannelTest {
  private static final char[] PASS = "changeit".toCharArray();
  private static final Way DESK = new Way("mail", "desk@brannoch.example", Map.of());

  private final List<byte[]> letters = new CopyOnWriteArrayList<>();
  private SMTPServer server;
  @TempDir private Path work;

  @BeforeEach
  void open() throws Exception {
    server =
        SMTPServer.port(0)
            .bindAddress(InetAddress.getLoopbackAddress())
            .enableTLS()
            .requireTLS()
            .startTlsSocketFactory(certificate())
            .requireAuth()
            .authenticationHandlerFactory(
                new EasyAuthenticationHandlerFactory(
                    (user, password, context) -> {
                      if (!user.equals("purser") || !password.equals("right")) {
                        throw new LoginFailedException();
                      }
                    }))
            .simpleMessageListener(
                new SimpleMessageListener() {
                  @Override
                  public boolean accept(String from, String recipient) {
                    return true;
                  }

                  @Override
                  public void deliver(String from, String recipient, InputStream data) {
                    try {
                      letters.add(data.readAllBytes());
                    } catch (java.io.IOException e) {
                      throw new java.io.UncheckedIOException(e);
                    }
                  }
                })
            .build();
    server.start();
  }

  @AfterEach
  void close() {
    server.stop();
  }

  private SSLContext certificate() throws Exception {
    Path store = work.resolve("mail.p12");
    String keytool = Path.of(System.getProperty("java.home"), "bin", "keytool").toString();
    Process made =
        new ProcessBuilder(
                keytool,
                "-genkeypair",
                "-alias",
                "mail",
                "-keyalg",
                "EC",
                "-storetype",
                "PKCS12",
                "-keystore",
                store.toString(),
                "-storepass",
                new String(PASS),
                "-dname",
                "CN=localhost",
                "-ext",
                "SAN=dns:localhost,ip:127.0.0.1")
            .inheritIO()
            .start();
    assertThat(made.waitFor()).isZero();
    KeyStore keys = KeyStore.getInstance("PKCS12");
    try (InputStream in = Files.newInputStream(store)) {
      keys.load(in, PASS);
    }
    KeyManagerFactory managers =
        KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    managers.init(keys, PASS);
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(managers.getKeyManagers(), null, null);
    return context;
  }

  private MailChannel channel(String password, String trust) {
    JavaMailSenderImpl sender = new JavaMailSenderImpl();
    sender.setHost("127.0.0.1");
    sender.setPort(server.getPortAllocated());
    sender.setUsername("purser");
    sender.setPassword(password);
    Properties how = sender.getJavaMailProperties();
    how.setProperty("mail.smtp.starttls.enable", "true");
    how.setProperty("mail.smtp.ssl.trust", trust);
    how.setProperty("mail.smtp.timeout", "5000");
    return new MailChannel(sender, new MailErrors(sender), Receivers.settings("", ""));
  }

  private MimeMessage letter(int at) throws Exception {
    return new MimeMessage(
        Session.getInstance(new Properties()), new ByteArrayInputStream(letters.get(at)));
  }

  private static String part(Object content, String type) throws Exception {
    MimeMultipart parts = (MimeMultipart) content;
    for (int i = 0; i < parts.getCount(); i++) {
      Object one = parts.getBodyPart(i).getContent();
      if (one instanceof MimeMultipart) {
        String found = part(one, type);
        if (!found.isEmpty()) {
          return found;
        }
      } else if (parts.getBodyPart(i).isMimeType(type)) {
        return (String) one;
      }
    }
    return "";
  }

  @Test
  void theFirstBeginsAConversationThatTheOthersAreIn() throws Exception {
    MailChannel mail = channel("right", "127.0.0.1");
    mail.deliver(Receivers.message("Sign for it", Optional.empty()), DESK);
    mail.deliver(Receivers.message("Sign\r\nBcc: x@y.example", Optional.of("alert-12-30")), DESK);
    assertThat(letters).hasSize(2);
    MimeMessage first = letter(0);
    assertThat(first.getSubject()).isEqualTo("[urgent: failed] Sign for it and 2 more");
    assertThat(first.getMessageID()).isEqualTo("<alert-12-34@purser>");
    assertThat(first.getHeader("In-Reply-To")).isNull();
    assertThat(part(first.getContent(), "text/plain"))
        .contains("exit code 3 <b>&")
        .contains("what to do:")
        .contains("call the depot")
        .contains("part of it, 2:")
        .contains("since:  2027-03-04 04:00:00 Europe/Oslo");
    assertThat(part(first.getContent(), "text/html"))
        .contains("exit code 3 &lt;b&gt;&amp;<br>second line")
        .contains("https://purser.brannoch.example/runs/77")
        .doesNotContain("<b>&");
    MimeMessage second = letter(1);
    assertThat(second.getHeader("In-Reply-To")).containsExactly("<alert-12-30@purser>");
    assertThat(second.getHeader("References")).containsExactly("<alert-12-30@purser>");
    assertThat(second.getHeader("Bcc")).as("a title adds no header").isNull();
  }

  @Test
  void aWrongPasswordIsSaidAndNothingGoesOut() {
    assertThatThrownBy(
            () ->
                channel("wrong", "127.0.0.1")
                    .deliver(Receivers.message("a", Optional.empty()), DESK))
        .isInstanceOf(Channel.DeliveryFailed.class)
        .message()
        .doesNotContain("wrong")
        .startsWith("the mail server at 127.0.0.1:")
        .endsWith("refuses the sign-in; see PURSER_MAIL_USER and PURSER_MAIL_PASSWORD");
    assertThat(letters).isEmpty();
  }

  @Test
  void aServerThatIsNotThereIsSaidInPlainWords() {
    MailChannel mail = channel("right", "127.0.0.1");
    server.stop();
    assertThatThrownBy(() -> mail.deliver(Receivers.message("a", Optional.empty()), DESK))
        .isInstanceOf(Channel.DeliveryFailed.class)
        .message()
        .startsWith("the mail server at 127.0.0.1:")
        .contains("cannot be reached: ")
        .doesNotContain("Exception")
        .doesNotContain("angus");
  }

  @Test
  void aServerWithACertificateThatNobodyKnowsGetsNothing() {
    assertThatThrownBy(
            () -> channel("right", "").deliver(Receivers.message("a", Optional.empty()), DESK))
        .isInstanceOf(Channel.DeliveryFailed.class)
        .hasMessageContaining("is not trusted");
    assertThat(letters).isEmpty();
  }

  /** A value with a line break stays in the subject; one that looks like HTML stays text. */
  @Test
  void aMailInOwnWordsSaysThemAndNothingElse() throws Exception {
    Way own =
        new Way(
            "mail",
            "desk@brannoch.example",
            Map.of(
                "subject",
                "${kind}: ${title} on ${host}",
                "text",
                "${text}\nexit ${exit-code}\n${output}\n${link} $${x}"));
    MailChannel mail = channel("right", "127.0.0.1");
    mail.deliver(Receivers.message("Sign\r\nBcc: x@y.example", Optional.empty()), own);
    MimeMessage letter = letter(0);
    assertThat(letter.getSubject()).isEqualTo("failed: Sign  Bcc: x@y.example on depot");
    assertThat(letter.getHeader("Bcc")).isNull();
    assertThat(part(letter.getContent(), "text/plain").replace("\r\n", "\n"))
        .isEqualTo(
            "exit code 3 <b>&\nsecond line\nexit 3\nSigning\nno key\n"
                + "https://purser.brannoch.example/runs/77 ${x}");
    assertThat(part(letter.getContent(), "text/html"))
        .contains("exit code 3 &lt;b&gt;&amp;<br>second line<br>exit 3");
  }
}
