package dev.purser.wire.trust;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.security.cert.CertificateFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;

/** Trusts a site's own certificate authority, where the site has one. */
public final class Trust {
  /** The variable that names the authority's certificates, a file in PEM. */
  public static final String VARIABLE = "PURSER_CA";

  private Trust() {}

  /**
   * From now on this program trusts the authority that {@link #VARIABLE} names, and no other; where
   * it names none, those that Java knows.
   *
   * @throws IOException where the file cannot be read, or holds no certificate
   */
  public static void asTheEnvironmentSays() throws IOException {
    String file = System.getenv(VARIABLE);
    if (file != null && !file.isBlank()) {
      SSLContext.setDefault(context(Path.of(file)));
    }
  }

  /**
   * A context that trusts the certificates of a file.
   *
   * @param pem one or more certificates
   * @throws IOException where it cannot be read, or holds no certificate
   */
  public static SSLContext context(Path pem) throws IOException {
    try (InputStream in = Files.newInputStream(pem)) {
      KeyStore known = KeyStore.getInstance(KeyStore.getDefaultType());
      known.load(null, null);
      for (Certificate one : CertificateFactory.getInstance("X.509").generateCertificates(in)) {
        known.setCertificateEntry("authority " + known.size(), one);
      }
      if (known.size() == 0) {
        throw new IOException("there is no certificate in " + pem);
      }
      TrustManagerFactory trusted =
          TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
      trusted.init(known);
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(null, trusted.getTrustManagers(), null);
      return context;
    } catch (GeneralSecurityException e) {
      throw new IOException("cannot read the certificates in " + pem + ": " + e.getMessage(), e);
    }
  }
}
