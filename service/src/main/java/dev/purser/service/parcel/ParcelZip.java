package dev.purser.service.parcel;

import dev.purser.core.problem.NotUnderstood;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipException;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/**
 * A parcel as a file: a zip with {@code manifest.json}, a YAML file for each definition, and where
 * it is signed the Ed25519 signature of the manifest, which has the sums of all others.
 */
final class ParcelZip {
  private static final String MANIFEST = "manifest.json";
  private static final String SIGNATURE = "manifest.sig";
  private static final int MOST_FILES = 20_000;
  private static final long MOST_BYTES = 64_000_000;
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private ParcelZip() {}

  /**
   * What was in a file.
   *
   * @param signedBy of those that are trusted
   * @param signed whether it has a signature at all
   */
  record Opened(
      Manifest manifest, Map<String, String> texts, Optional<String> signedBy, boolean signed) {}

  static byte[] pack(Manifest manifest, Map<String, String> texts, Optional<ParcelKeys> keys) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(out, StandardCharsets.UTF_8)) {
      byte[] head = JSON.writerWithDefaultPrettyPrinter().writeValueAsBytes(manifest);
      put(zip, MANIFEST, head);
      if (keys.isPresent()) {
        put(zip, SIGNATURE, keys.get().sign(head));
      }
      for (Map.Entry<String, String> text : texts.entrySet()) {
        put(zip, text.getKey(), text.getValue().getBytes(StandardCharsets.UTF_8));
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toByteArray();
  }

  private static void put(ZipOutputStream zip, String name, byte[] bytes) throws IOException {
    ZipEntry entry = new ZipEntry(name);
    entry.setTime(0); // the same contents make the same file
    zip.putNextEntry(entry);
    zip.write(bytes);
    zip.closeEntry();
  }

  /**
   * Reads a parcel, and holds all of it against its manifest.
   *
   * @throws NotUnderstood where it is none, is of a newer format, or was changed
   */
  static Opened open(byte[] bytes, ParcelKeys keys) {
    Map<String, byte[]> entries = entries(bytes);
    byte[] head = entries.remove(MANIFEST);
    byte[] signature = entries.remove(SIGNATURE);
    if (head == null) {
      throw new NotUnderstood(
          "this is not a parcel: it has no " + MANIFEST + "; purser parcel makes one");
    }
    Manifest manifest = manifest(head);
    Optional<String> signer = Optional.empty();
    if (signature != null) {
      signer = keys.signer(head, signature);
    }
    if (keys.areWanted() && signer.isEmpty()) {
      throw new NotUnderstood(
          signature == null
              ? "the parcel is not signed; this service takes only those that are"
              : "the parcel is not signed by anybody whom this service trusts, or was changed"
                  + " after it was signed");
    }
    Map<String, String> texts = new LinkedHashMap<>();
    for (Manifest.Content content : manifest.contents()) {
      byte[] file = entries.remove(content.file());
      if (file == null) {
        throw new NotUnderstood("the parcel lacks the file " + content.file() + " of its manifest");
      }
      if (!sum(file).equals(content.sum())) {
        throw new NotUnderstood(
            "the file " + content.file() + " of the parcel was changed after it was packed");
      }
      texts.put(content.file(), new String(file, StandardCharsets.UTF_8));
    }
    if (!entries.isEmpty()) {
      throw new NotUnderstood(
          "the parcel has a file that its manifest does not name: "
              + entries.keySet().iterator().next());
    }
    return new Opened(manifest, texts, signer, signature != null);
  }

  private static Manifest manifest(byte[] head) {
    int format;
    String needs;
    try {
      format = JSON.readTree(head).path("format").asInt(0);
      needs = JSON.readTree(head).path("needs").asString("");
    } catch (JacksonException e) {
      throw new NotUnderstood("this is not a parcel: its " + MANIFEST + " cannot be read");
    }
    if (format > Manifest.FORMAT) {
      throw new NotUnderstood(
          "the parcel has format "
              + format
              + "; this service reads up to "
              + Manifest.FORMAT
              + ": it was packed by a newer Purser");
    }
    if (isNewer(needs, Manifest.OWN_VERSION)) {
      throw new NotUnderstood(
          "the parcel needs Purser " + needs + " or newer; this is " + Manifest.OWN_VERSION);
    }
    try {
      Manifest manifest = JSON.readValue(head, Manifest.class);
      boolean whole =
          manifest.contents() != null
              && manifest.from() != null
              && manifest.contents().stream()
                  .allMatch(one -> one.file() != null && one.sum() != null);
      if (!whole) {
        throw new NotUnderstood("this is not a parcel: its " + MANIFEST + " is not whole");
      }
      return manifest;
    } catch (JacksonException e) {
      throw new NotUnderstood("this is not a parcel: its " + MANIFEST + " cannot be read");
    }
  }

  private static boolean isNewer(String needs, String own) {
    List<Integer> theirs = numbers(needs);
    List<Integer> ours = numbers(own);
    for (int i = 0; i < theirs.size(); i++) {
      int mine = i < ours.size() ? ours.get(i) : 0;
      if (theirs.get(i) != mine) {
        return theirs.get(i) > mine;
      }
    }
    return false;
  }

  private static List<Integer> numbers(String version) {
    return version.matches("\\d{1,6}(\\.\\d{1,6})*.*")
        ? List.of(version.replaceAll("[^0-9.].*", "").split("\\.")).stream()
            .map(Integer::valueOf)
            .toList()
        : List.of();
  }

  private static Map<String, byte[]> entries(byte[] bytes) {
    Map<String, byte[]> entries = new LinkedHashMap<>();
    long total = 0;
    try (ZipInputStream zip =
        new ZipInputStream(new ByteArrayInputStream(bytes), StandardCharsets.UTF_8)) {
      for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
        byte[] content = zip.readNBytes((int) (MOST_BYTES - total + 1));
        total += content.length;
        if (total > MOST_BYTES || entries.size() >= MOST_FILES) {
          throw new NotUnderstood(
              "the parcel is too large: at most "
                  + MOST_FILES
                  + " files and "
                  + MOST_BYTES / 1_000_000
                  + " MB unpacked");
        }
        if (entries.put(entry.getName(), content) != null) {
          throw new NotUnderstood("the parcel has two files named " + entry.getName());
        }
      }
    } catch (ZipException | IllegalArgumentException e) {
      throw new NotUnderstood("this is not a parcel: the zip is broken (" + e.getMessage() + ")");
    } catch (IOException e) {
      throw new NotUnderstood("this is not a parcel: the zip ends in the middle");
    }
    return entries;
  }

  static String sum(byte[] bytes) {
    try {
      return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
