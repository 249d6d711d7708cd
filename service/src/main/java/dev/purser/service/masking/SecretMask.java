package dev.purser.service.masking;

import dev.purser.remote.http.Masked;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Base64;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;

/**
 * Takes secrets out of what is kept and shown: as they are, and as Base64 and an address would
 * write them.
 */
@Component
public class SecretMask {
  /** A secret as it may be written. */
  private record Form(String text, byte[] bytes) {}

  private volatile List<Form> known = List.of();

  /** From now on these are taken out. */
  public void know(Collection<String> secrets) {
    Set<String> all = new LinkedHashSet<>();
    for (String secret : secrets) {
      byte[] bytes = secret.getBytes(StandardCharsets.UTF_8);
      all.add(secret);
      all.add(Base64.getEncoder().encodeToString(bytes));
      all.add(URLEncoder.encode(secret, StandardCharsets.UTF_8));
    }
    known =
        all.stream()
            .filter(form -> form.length() >= Masked.SHORTEST)
            .sorted(Comparator.comparingInt(String::length).reversed())
            .map(form -> new Form(form, form.getBytes(StandardCharsets.UTF_8)))
            .toList();
  }

  /** A text without any secret. */
  public String of(String text) {
    String out = text;
    for (Form secret : known) {
      out = out.contains(secret.text()) ? out.replace(secret.text(), Masked.MARK) : out;
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
    for (Form secret : known) {
      byte[] bytes = secret.bytes();
      for (int at = find(out, bytes, 0); at >= 0; at = find(out, bytes, at + bytes.length)) {
        out = out == data ? data.clone() : out;
        System.arraycopy(inPlaceOf(bytes.length), 0, out, at, bytes.length);
      }
    }
    return out;
  }

  /** How many bytes the longest secret has. */
  public int longest() {
    return known.stream().mapToInt(secret -> secret.bytes().length).max().orElse(0);
  }

  /** Whether the beginning of a piece may be the end of a secret. */
  public boolean mayEnd(byte[] data) {
    for (Form secret : known) {
      byte[] bytes = secret.bytes();
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
