package dev.purser.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.Base64;

/** The file with the keys that secrets of the tests are encrypted with. */
public final class SecretKeyFile {
  private static Path file;

  private SecretKeyFile() {}

  /** Where it is; it is made at the first call. */
  public static synchronized String path() {
    if (file == null) {
      try {
        file = Files.createTempFile("purser-secrets", ".key");
        Files.writeString(file, key() + "\n");
        file.toFile().deleteOnExit();
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
    return file.toString();
  }

  /** A new key. */
  public static String key() {
    byte[] bytes = new byte[32];
    new SecureRandom().nextBytes(bytes);
    return Base64.getEncoder().encodeToString(bytes);
  }
}
