package dev.purser.remote.http;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.KeyStore;
import java.security.PrivateKey;
import java.security.cert.Certificate;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.security.spec.InvalidKeySpecException;
import java.security.spec.PKCS8EncodedKeySpec;
import java.util.Base64;
import java.util.Collection;
import java.util.List;
import javax.net.ssl.KeyManager;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509TrustManager;

/** Whom a connection trusts, and with which certificate it signs in, from PEM files. */
final class Trust {
  private Trust() {}

  /**
   * The context of a client.
   *
   * @param trusts a file of certificates that are trusted besides those that Java trusts; or empty
   * @param certificate a file with our own; or empty
   * @param key our key, PKCS 8 in PEM; or empty
   */
  static SSLContext context(String trusts, String certificate, String key)
      throws IOException, GeneralSecurityException {
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(
        certificate.isEmpty() ? null : keys(certificate, key),
        trusts.isEmpty() ? null : new TrustManager[] {new Both(usual(), of(certificates(trusts)))},
        null);
    return context;
  }

  private static Collection<? extends Certificate> certificates(String file)
      throws IOException, CertificateException {
    byte[] bytes;
    try {
      bytes = Files.readAllBytes(Path.of(file));
    } catch (IOException e) {
      throw new IOException("cannot read the certificates in " + file, e);
    }
    Collection<? extends Certificate> found =
        CertificateFactory.getInstance("X.509")
            .generateCertificates(new ByteArrayInputStream(bytes));
    if (found.isEmpty()) {
      throw new CertificateException("there is no certificate in " + file);
    }
    return found;
  }

  private static X509TrustManager usual() throws GeneralSecurityException {
    return trusting(null);
  }

  private static X509TrustManager of(Collection<? extends Certificate> certificates)
      throws GeneralSecurityException, IOException {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    int number = 0;
    for (Certificate one : certificates) {
      store.setCertificateEntry("trusted-" + number++, one);
    }
    return trusting(store);
  }

  private static X509TrustManager trusting(KeyStore store) throws GeneralSecurityException {
    TrustManagerFactory factory =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    factory.init(store);
    return (X509TrustManager) factory.getTrustManagers()[0];
  }

  private static KeyManager[] keys(String certificate, String key)
      throws GeneralSecurityException, IOException {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    char[] none = new char[0];
    store.setKeyEntry(
        "own", privateKey(key), none, certificates(certificate).toArray(new Certificate[0]));
    KeyManagerFactory factory =
        KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    factory.init(store, none);
    return factory.getKeyManagers();
  }

  private static PrivateKey privateKey(String pem) throws GeneralSecurityException {
    String inner = pem.replaceAll("-----[A-Z ]+-----", "").replaceAll("\\s", "");
    byte[] bytes;
    try {
      bytes = Base64.getDecoder().decode(inner.getBytes(StandardCharsets.US_ASCII));
    } catch (IllegalArgumentException e) {
      throw new InvalidKeySpecException("the secret is not a key in PEM (PKCS 8)");
    }
    InvalidKeySpecException last = null;
    for (String algorithm : List.of("RSA", "EC", "Ed25519")) {
      try {
        return KeyFactory.getInstance(algorithm).generatePrivate(new PKCS8EncodedKeySpec(bytes));
      } catch (InvalidKeySpecException e) {
        last = e; // it is of another algorithm
      }
    }
    throw new InvalidKeySpecException("the secret is not a key in PEM (PKCS 8)", last);
  }

  /** Trusts whom either trusts. */
  private record Both(X509TrustManager usual, X509TrustManager own) implements X509TrustManager {
    @Override
    public void checkServerTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      try {
        own.checkServerTrusted(chain, type);
      } catch (CertificateException e) {
        usual.checkServerTrusted(chain, type);
      }
    }

    @Override
    public void checkClientTrusted(X509Certificate[] chain, String type)
        throws CertificateException {
      usual.checkClientTrusted(chain, type);
    }

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return usual.getAcceptedIssuers();
    }
  }
}
