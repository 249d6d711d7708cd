package dev.purser.service.people;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.HexFormat;

/** Random secrets, and what is kept of them. */
public final class Secrets {
  private static final SecureRandom RANDOM = new SecureRandom();

  private Secrets() {}

  /** A fresh secret of 256 bits, safe in addresses and headers. */
  public static String fresh() {
    byte[] bytes = new byte[32];
    RANDOM.nextBytes(bytes);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
  }

  /** A fresh password that can be typed: 20 letters and digits without look-alikes. */
  public static String password() {
    String letters = "abcdefghjkmnpqrstuvwxyz23456789";
    StringBuilder out = new StringBuilder();
    for (int i = 0; i < 20; i++) {
      out.append(letters.charAt(RANDOM.nextInt(letters.length())));
    }
    return out.toString();
  }

  /** SHA-256 in hex: enough for secrets that are random to begin with, and for identities. */
  public static String hash(String secret) {
    try {
      MessageDigest digest = MessageDigest.getInstance("SHA-256");
      return HexFormat.of().formatHex(digest.digest(secret.getBytes(StandardCharsets.UTF_8)));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
