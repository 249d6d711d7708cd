package dev.purser.service.care;

import dev.purser.service.Settings;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.springframework.stereotype.Component;

/** Looks how long the certificate holds by which this service speaks https. */
@Component
class CertificateLook implements Look {
  private static final long SOON_DAYS = 30;
  private static final long URGENT_DAYS = 7;
  private static final String REMEDY =
      "put the renewed cert.pem and key.pem where PURSER_TLS says, and start the service anew";

  private final Settings settings;
  private final Clock clock;

  CertificateLook(Settings settings, Clock clock) {
    this.settings = settings;
    this.clock = clock;
  }

  @Override
  public String about() {
    return "certificate";
  }

  @Override
  public boolean isTold() {
    return true;
  }

  @Override
  public List<Finding> find() {
    if (settings.tls().isBlank()) {
      return List.of();
    }
    Path file = Path.of(settings.tls()).resolve("cert.pem");
    try (InputStream in = Files.newInputStream(file)) {
      X509Certificate first =
          (X509Certificate) CertificateFactory.getInstance("X.509").generateCertificate(in);
      return List.of(judge(first.getNotAfter().toInstant(), clock.instant()));
    } catch (IOException | CertificateException e) {
      return List.of(
          Finding.bad("certificate", file + " cannot be read: " + e.getMessage(), REMEDY));
    }
  }

  /** How one is that holds until an instant. */
  static Finding judge(Instant until, Instant now) {
    long days = Duration.between(now, until).toDays();
    if (!until.isAfter(now)) {
      return Finding.bad("certificate", "it has run out on " + until, REMEDY);
    }
    String text = "it holds until " + until + (days < SOON_DAYS ? ", " + days + " days more" : "");
    if (days < SOON_DAYS) {
      return days < URGENT_DAYS
          ? Finding.bad("certificate", text, REMEDY)
          : Finding.look("certificate", text, REMEDY);
    }
    return Finding.good("certificate", text);
  }
}
