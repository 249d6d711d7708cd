package dev.purser.service.api.answer;

import dev.purser.service.Settings;
import java.nio.file.Path;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.Ssl;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.stereotype.Component;

/**
 * Speaks https by itself, where the site gives a directory with {@code cert.pem} (with what is
 * between it and the authority) and {@code key.pem}; the cookie of a session then goes no other
 * way.
 */
@Component
class Tls implements WebServerFactoryCustomizer<TomcatServletWebServerFactory> {
  private final String directory;

  @Autowired
  Tls(Settings settings) {
    this(settings.tls());
  }

  private Tls(String directory) {
    this.directory = directory;
  }

  /** With what is in a directory; empty for plain http. */
  static Tls of(String directory) {
    return new Tls(directory);
  }

  @Override
  public void customize(TomcatServletWebServerFactory factory) {
    if (directory.isBlank()) {
      return;
    }
    Path place = Path.of(directory).toAbsolutePath();
    Ssl ssl = new Ssl();
    ssl.setEnabled(true);
    ssl.setCertificate(place.resolve("cert.pem").toUri().toString());
    ssl.setCertificatePrivateKey(place.resolve("key.pem").toUri().toString());
    factory.setSsl(ssl);
    factory.getSettings().getSession().getCookie().setSecure(true);
  }
}
