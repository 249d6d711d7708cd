package dev.purser.service.secret;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/**
 * The keys that secrets are encrypted with: a file with one or more, a line each, 32 bytes as
 * Base64. What is encrypted anew is so with the first; what was encrypted with another is read with
 * that. The file is read at each use, so a key is added without a restart.
 */
@Component
class SecretKeys {
  private static final int LENGTH = 32;
  private static final int LONGEST_FILE = 64 * 1024;

  private final String file;

  /**
   * From a file.
   *
   * @param named by the administrator; where nothing is, systemd's credential is looked for
   */
  SecretKeys(@Value("${purser.secrets-key:}") String named) {
    String credentials = System.getenv("CREDENTIALS_DIRECTORY");
    this.file =
        !named.isBlank() || credentials == null ? named : credentials + "/purser-secrets-key";
  }

  /**
   * A key.
   *
   * @param id the beginning of its SHA-256, which says nothing about it
   */
  record Key(String id, byte[] bytes) {
    @Override
    public String toString() {
      return "key " + id;
    }
  }

  /** The key for what is encrypted now. */
  Key first() throws IOException {
    return all().get(0);
  }

  /** The key of an id, where it is there. */
  Optional<Key> of(String id) throws IOException {
    return all().stream().filter(key -> key.id().equals(id)).findFirst();
  }

  /** All keys; there is at least one. */
  List<Key> all() throws IOException {
    if (file.isBlank()) {
      throw new IOException(
          "there is no key for secrets: PURSER_SECRETS_KEY must name a file with 32 random bytes in"
              + " Base64, as openssl rand -base64 32 makes them, or systemd must give the"
              + " credential purser-secrets-key");
    }
    List<Key> keys = new ArrayList<>();
    for (String line : read().split("\n")) {
      String text = line.strip();
      if (!text.isEmpty() && !text.startsWith("#")) {
        keys.add(key(text));
      }
    }
    if (keys.isEmpty()) {
      throw new IOException("there is no key in " + file);
    }
    return keys;
  }

  private String read() throws IOException {
    Path path = Path.of(file);
    try {
      if (Files.size(path) > LONGEST_FILE) {
        throw new IOException("the file of keys " + file + " is too long");
      }
      return Files.readString(path, StandardCharsets.UTF_8);
    } catch (java.nio.file.NoSuchFileException | java.nio.file.AccessDeniedException e) {
      throw new IOException("cannot read the keys for secrets in " + file, e);
    }
  }

  private Key key(String text) throws IOException {
    byte[] bytes;
    try {
      bytes = Base64.getDecoder().decode(text);
    } catch (IllegalArgumentException e) {
      bytes = new byte[0];
    }
    if (bytes.length != LENGTH) {
      throw new IOException(
          "a line of "
              + file
              + " is not a key: expected 32 bytes in Base64, as openssl rand"
              + " -base64 32 makes them");
    }
    try {
      byte[] hash = MessageDigest.getInstance("SHA-256").digest(bytes);
      return new Key(HexFormat.of().formatHex(hash, 0, 8), bytes);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }
}
