package dev.purser.service.secret;

import dev.purser.core.definition.Connection;
import dev.purser.remote.http.Masked;
import dev.purser.service.board.Engine;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Takes secrets out of what is kept and shown: those that the service stores and those that its
 * connections use, as they are, and as Base64 and an address would write them.
 */
@Component
public class SecretMask {
  private static final Logger LOG = LoggerFactory.getLogger(SecretMask.class);

  private final StoredSecrets stored;
  private final ObjectProvider<SecretPermits> permits;
  private final ObjectProvider<Engine> engine;
  private volatile List<String> known = List.of();

  SecretMask(
      StoredSecrets stored, ObjectProvider<SecretPermits> permits, ObjectProvider<Engine> engine) {
    this.stored = stored;
    this.permits = permits;
    this.engine = engine;
  }

  /** Takes in what is new; called after a change, and every few seconds for those of others. */
  @Scheduled(fixedDelay = 5_000)
  public void refresh() {
    Set<String> all = new LinkedHashSet<>();
    try {
      for (StoredSecretRow row : stored.all()) {
        add(() -> stored.read(row.name), all);
      }
      for (Connection connection : engine.getObject().definitions().connections()) {
        if (!connection.secret().isNone() && connection.secret().stored().isEmpty()) {
          add(() -> permits.getObject().secretOf(connection), all);
        }
      }
    } catch (RuntimeException e) {
      LOG.debug("secrets to be masked cannot be read now", e);
      return; // those that were known stay
    }
    known = all.stream().sorted(Comparator.comparingInt(String::length).reversed()).toList();
  }

  private interface Read {
    String secret() throws IOException;
  }

  private static void add(Read read, Set<String> all) {
    try {
      String secret = read.secret();
      List<String> forms = new ArrayList<>(List.of(secret));
      byte[] bytes = secret.getBytes(StandardCharsets.UTF_8);
      forms.add(Base64.getEncoder().encodeToString(bytes));
      forms.add(URLEncoder.encode(secret, StandardCharsets.UTF_8));
      forms.stream().filter(form -> form.length() >= Masked.SHORTEST).forEach(all::add);
    } catch (IOException e) {
      LOG.debug("a secret cannot be read: {}", e.getMessage());
    }
  }

  /** A text without any secret. */
  public String of(String text) {
    String out = text;
    for (String secret : known) {
      out = out.contains(secret) ? out.replace(secret, Masked.MARK) : out;
    }
    return out;
  }

  /** Values without any secret. */
  public Map<String, String> of(Map<String, String> values) {
    Map<String, String> out = new LinkedHashMap<>();
    values.forEach((name, value) -> out.put(name, of(value)));
    return out;
  }

  /**
   * Bytes of output without any secret, as many as there were: what follows stays where it is.
   *
   * @return the same array where it holds none
   */
  public byte[] of(byte[] data) {
    byte[] out = data;
    for (String secret : known) {
      byte[] bytes = secret.getBytes(StandardCharsets.UTF_8);
      for (int at = find(out, bytes, 0); at >= 0; at = find(out, bytes, at + bytes.length)) {
        out = out == data ? data.clone() : out;
        System.arraycopy(inPlaceOf(bytes.length), 0, out, at, bytes.length);
      }
    }
    return out;
  }

  /** Whether the beginning of a piece may be the end of a secret. */
  public boolean mayEnd(byte[] data) {
    for (String secret : known) {
      byte[] bytes = secret.getBytes(StandardCharsets.UTF_8);
      for (int length = Math.min(bytes.length - 1, data.length); length > 0; length--) {
        if (Arrays.equals(bytes, bytes.length - length, bytes.length, data, 0, length)) {
          return true;
        }
      }
    }
    return false;
  }

  private static int find(byte[] data, byte[] piece, int from) {
    for (int at = from; at <= data.length - piece.length; at++) {
      int same = 0;
      while (same < piece.length && data[at + same] == piece[same]) {
        same++;
      }
      if (same == piece.length) {
        return at;
      }
    }
    return -1;
  }

  /** The mark, and spaces, or as much of the mark as there is room for. */
  private static byte[] inPlaceOf(int length) {
    byte[] mark = "•".getBytes(StandardCharsets.UTF_8);
    byte[] out = new byte[length];
    Arrays.fill(out, (byte) ' ');
    for (int i = 0; i < 3 && (i + 1) * mark.length <= length; i++) {
      System.arraycopy(mark, 0, out, i * mark.length, mark.length);
    }
    return out;
  }
}
