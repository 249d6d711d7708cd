package dev.purser.service.secret;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * Encrypts secrets with AES-GCM (NIST SP 800-38D): a nonce of 12 random bytes each, a tag of 128
 * bits. The name of a secret is bound to it, so that a row cannot be given another's name.
 */
final class Sealing {
  private static final int NONCE = 12;
  private static final int TAG_BITS = 128;
  private static final SecureRandom RANDOM = new SecureRandom();

  private Sealing() {}

  /** The nonce, and then what was encrypted with its tag. */
  static byte[] seal(byte[] key, String name, String secret) {
    byte[] nonce = new byte[NONCE];
    RANDOM.nextBytes(nonce);
    try {
      byte[] sealed =
          cipher(Cipher.ENCRYPT_MODE, key, nonce, name)
              .doFinal(secret.getBytes(StandardCharsets.UTF_8));
      return ByteBuffer.allocate(NONCE + sealed.length).put(nonce).put(sealed).array();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has AES-GCM", e);
    }
  }

  /**
   * What was encrypted.
   *
   * @throws GeneralSecurityException where it was changed, has another name, or another key
   */
  static String open(byte[] key, String name, byte[] sealed) throws GeneralSecurityException {
    ByteBuffer in = ByteBuffer.wrap(sealed);
    byte[] nonce = new byte[NONCE];
    if (sealed.length <= NONCE) {
      throw new GeneralSecurityException("too short");
    }
    in.get(nonce);
    byte[] rest = new byte[in.remaining()];
    in.get(rest);
    return new String(
        cipher(Cipher.DECRYPT_MODE, key, nonce, name).doFinal(rest), StandardCharsets.UTF_8);
  }

  private static Cipher cipher(int mode, byte[] key, byte[] nonce, String name)
      throws GeneralSecurityException {
    Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
    cipher.init(mode, new SecretKeySpec(key, "AES"), new GCMParameterSpec(TAG_BITS, nonce));
    cipher.updateAAD(name.getBytes(StandardCharsets.UTF_8));
    return cipher;
  }
}
