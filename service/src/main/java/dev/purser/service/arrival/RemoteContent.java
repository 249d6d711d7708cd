package dev.purser.service.arrival;

import dev.purser.core.arrival.Content;
import dev.purser.core.arrival.LookFor;
import dev.purser.remote.place.RemotePlace;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Map;

/** Reads into files that are elsewhere, no more of them than is needed. */
final class RemoteContent {
  /** A larger file is fetched only where its content is asked for. */
  private static final long MOST_FETCHED = 16L * 1024 * 1024;

  private static final int TAIL = 8 * 1024;
  private static final int LONGEST_LINE = 1_000;
  private static final int LONGEST_CHECKSUM_FILE = 64 * 1024;

  /** By the number of hexadecimal digits. */
  private static final Map<Integer, String> KINDS =
      Map.of(32, "MD5", 40, "SHA-1", 64, "SHA-256", 128, "SHA-512");

  private RemoteContent() {}

  static Content read(RemotePlace at, String path, RemotePlace.RemoteFile file, LookFor what)
      throws IOException {
    String expected = "";
    if (!what.checksumFile().isEmpty()) {
      String directory = path.substring(0, path.lastIndexOf('/') + 1);
      expected = expected(at, directory + what.checksumFileOf(file.name()));
    }
    boolean asked = !expected.isEmpty() || !what.lastLine().isEmpty();
    if (!asked && (file.size() > MOST_FETCHED || !file.key().isEmpty())) {
      // an object store's own tag of the content stands for it
      return new Content(cut(file.key()), "", "", "");
    }
    MessageDigest own = digest("SHA-256");
    MessageDigest other = digest(KINDS.getOrDefault(expected.length(), "SHA-256"));
    byte[] tail = new byte[0];
    try (InputStream in = at.read(path)) {
      byte[] buffer = new byte[64 * 1024];
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        own.update(buffer, 0, n);
        other.update(buffer, 0, n);
        tail = tail(tail, buffer, n);
      }
    }
    return new Content(
        HexFormat.of().formatHex(own.digest()),
        what.lastLine().isEmpty() ? "" : lastLine(tail),
        expected,
        expected.isEmpty() ? "" : HexFormat.of().formatHex(other.digest()));
  }

  private static String cut(String tag) {
    return tag.length() > 64 ? tag.substring(0, 64) : tag;
  }

  private static byte[] tail(byte[] before, byte[] buffer, int length) {
    byte[] both = Arrays.copyOf(before, before.length + length);
    System.arraycopy(buffer, 0, both, before.length, length);
    return both.length <= TAIL ? both : Arrays.copyOfRange(both, both.length - TAIL, both.length);
  }

  private static String lastLine(byte[] tail) {
    String text = new String(tail, StandardCharsets.UTF_8).stripTrailing();
    String line = text.substring(text.lastIndexOf('\n') + 1);
    return line.length() > LONGEST_LINE ? line.substring(0, LONGEST_LINE) : line;
  }

  private static String expected(RemotePlace at, String path) throws IOException {
    try (InputStream in = at.read(path)) {
      String text =
          new String(in.readNBytes(LONGEST_CHECKSUM_FILE), StandardCharsets.ISO_8859_1).strip();
      String first = text.split("\\s+", 2)[0].toLowerCase(Locale.ROOT);
      return first.matches("[0-9a-f]+") && KINDS.containsKey(first.length()) ? first : "";
    }
  }

  private static MessageDigest digest(String kind) {
    try {
      return MessageDigest.getInstance(kind);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has " + kind, e);
    }
  }
}
