package dev.purser.agent;

import dev.purser.core.arrival.Content;
import dev.purser.core.arrival.LookFor;
import java.io.IOException;
import java.io.InputStream;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** Reads into files: their checksums and their last lines. */
final class FileContents {
  /** A larger file is read only where its checksum is asked for. */
  static final long MOST_READ = 256L * 1024 * 1024;

  private static final int TAIL = 8 * 1024;
  private static final int LONGEST_LINE = 1_000;

  /** By the number of hexadecimal digits. */
  private static final Map<Integer, String> KINDS =
      Map.of(32, "MD5", 40, "SHA-1", 64, "SHA-256", 128, "SHA-512");

  private FileContents() {}

  static Content read(Path file, LookFor what) throws IOException {
    String expected = "";
    if (!what.checksumFile().isEmpty()) {
      expected = expected(file.resolveSibling(what.checksumFileOf(file.getFileName().toString())));
    }
    boolean read = Files.size(file) <= MOST_READ || !expected.isEmpty();
    MessageDigest own = digest("SHA-256");
    Optional<MessageDigest> asked =
        Optional.ofNullable(KINDS.get(expected.length())).map(FileContents::digest);
    if (read) {
      digest(file, own, asked);
    }
    return new Content(
        read ? hex(own) : "",
        what.lastLine().isEmpty() ? "" : lastLine(file),
        asked.isPresent() ? expected : "",
        asked.map(FileContents::hex).orElse(""));
  }

  private static void digest(Path file, MessageDigest own, Optional<MessageDigest> asked)
      throws IOException {
    byte[] buffer = new byte[128 * 1024];
    try (InputStream in = Files.newInputStream(file)) {
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        own.update(buffer, 0, n);
        if (asked.isPresent()) {
          asked.get().update(buffer, 0, n);
        }
      }
    }
  }

  private static MessageDigest digest(String kind) {
    try {
      return MessageDigest.getInstance(kind);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has " + kind, e);
    }
  }

  private static String hex(MessageDigest digest) {
    return HexFormat.of().formatHex(digest.digest());
  }

  /** The first word of a checksum file, as the usual tools write them; empty where it is none. */
  private static String expected(Path file) throws IOException {
    if (Files.size(file) > 64 * 1024) {
      return "";
    }
    String text = new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1).strip();
    String first = text.split("\\s+", 2)[0].toLowerCase(Locale.ROOT);
    return first.matches("[0-9a-f]+") && KINDS.containsKey(first.length()) ? first : "";
  }

  private static String lastLine(Path file) throws IOException {
    try (RandomAccessFile in = new RandomAccessFile(file.toFile(), "r")) {
      long from = Math.max(0, in.length() - TAIL);
      byte[] tail = new byte[(int) (in.length() - from)];
      in.seek(from);
      in.readFully(tail);
      String text = new String(tail, StandardCharsets.UTF_8).stripTrailing();
      String line = text.substring(text.lastIndexOf('\n') + 1);
      return line.length() > LONGEST_LINE ? line.substring(0, LONGEST_LINE) : line;
    }
  }
}
