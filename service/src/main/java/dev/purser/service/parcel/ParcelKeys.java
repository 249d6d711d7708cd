package dev.purser.service.parcel;

import dev.purser.core.problem.NotUnderstood;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.Signature;
import java.security.spec.PKCS8EncodedKeySpec;
import java.security.spec.X509EncodedKeySpec;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/** The key that this service signs parcels with, and those of the services that it trusts. */
@Component
class ParcelKeys {
  private static final String ALGORITHM = "Ed25519";

  private final String own;
  private final String trusted;

  /**
   * Where the keys are; they are read each time, so they can be replaced while the service runs.
   *
   * @param own a file with a private key (PKCS#8, PEM); empty for none
   * @param trusted a directory of public keys (PEM), NAME.pem each; empty where any parcel is taken
   */
  ParcelKeys(
      @Value("${purser.parcel-key:}") String own,
      @Value("${purser.parcel-signers:}") String trusted) {
    this.own = own;
    this.trusted = trusted;
  }

  /** Whether only parcels are taken that somebody has signed who is trusted. */
  boolean areWanted() {
    return !trusted.isEmpty();
  }

  byte[] sign(byte[] manifest) {
    if (own.isEmpty()) {
      throw new NotUnderstood(
          "this service has no key to sign with: start it with PURSER_PARCEL_KEY, the path of an"
              + " Ed25519 private key (openssl genpkey -algorithm ed25519)");
    }
    try {
      PrivateKey key =
          KeyFactory.getInstance(ALGORITHM)
              .generatePrivate(new PKCS8EncodedKeySpec(pem(Path.of(own))));
      Signature signature = Signature.getInstance(ALGORITHM);
      signature.initSign(key);
      signature.update(manifest);
      return signature.sign();
    } catch (IOException | GeneralSecurityException | IllegalArgumentException e) {
      throw new NotUnderstood("the key " + own + " cannot be used to sign: " + e.getMessage());
    }
  }

  /** Whose signature it is, of those that are trusted. */
  Optional<String> signer(byte[] manifest, byte[] signature) {
    if (trusted.isEmpty()) {
      return Optional.empty();
    }
    try (var files = Files.list(Path.of(trusted))) {
      List<Path> keys = files.filter(file -> file.toString().endsWith(".pem")).sorted().toList();
      for (Path file : keys) {
        if (isOf(file, manifest, signature)) {
          return Optional.of(file.getFileName().toString().replaceAll("\\.pem$", ""));
        }
      }
      return Optional.empty();
    } catch (IOException e) {
      throw new NotUnderstood("the keys of those who are trusted cannot be read: " + trusted);
    }
  }

  private static boolean isOf(Path file, byte[] manifest, byte[] signature) throws IOException {
    try {
      PublicKey key =
          KeyFactory.getInstance(ALGORITHM).generatePublic(new X509EncodedKeySpec(pem(file)));
      Signature check = Signature.getInstance(ALGORITHM);
      check.initVerify(key);
      check.update(manifest);
      return check.verify(signature);
    } catch (GeneralSecurityException | IllegalArgumentException e) {
      return false; // another kind of key, or none
    }
  }

  private static byte[] pem(Path file) throws IOException {
    return Base64.getMimeDecoder()
        .decode(
            Files.readString(file, StandardCharsets.US_ASCII).replaceAll("-----[A-Z ]+-----", ""));
  }
}
