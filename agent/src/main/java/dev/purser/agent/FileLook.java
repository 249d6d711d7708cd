package dev.purser.agent;

import dev.purser.core.arrival.FileFacts;
import dev.purser.core.arrival.LookFor;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Looks at single files: how they look, and whether they may be followed. */
final class FileLook {
  /** What the system gives no notice of, and whose clock may be another's. */
  private static final Set<String> OF_OTHERS =
      Set.of(
          "nfs",
          "nfs4",
          "cifs",
          "smb",
          "smb2",
          "smb3",
          "smbfs",
          "9p",
          "afs",
          "ceph",
          "glusterfs",
          "lustre",
          "ncpfs",
          "ocfs2",
          "gfs2",
          "beegfs",
          "vboxsf",
          "virtiofs",
          "davfs");

  private static final String ASKED =
      "unix:size,lastModifiedTime,ctime,ino,isRegularFile,isSymbolicLink";

  private FileLook() {}

  /** Whether a directory is of this machine: the system tells what happens in it. */
  static boolean isLocal(Path directory) {
    try {
      FileStore store = Files.getFileStore(directory);
      String type = store.type().toLowerCase(Locale.ROOT);
      return !OF_OTHERS.contains(type) && !type.startsWith("fuse");
    } catch (IOException e) {
      return false;
    }
  }

  /**
   * How a file looks; empty where it is not there, or is no file.
   *
   * @param besides whose companions are looked for
   * @throws IOException where that cannot be told
   */
  static Optional<FileFacts> at(Path file, LookFor besides, boolean local) throws IOException {
    Map<String, Object> seen;
    FileFacts.Oddity oddity = FileFacts.Oddity.NONE;
    try {
      seen = Files.readAttributes(file, ASKED, LinkOption.NOFOLLOW_LINKS);
      if (Boolean.TRUE.equals(seen.get("isSymbolicLink"))) {
        if (!leadsWithin(file)) {
          oddity = FileFacts.Oddity.LINK_OUT;
        } else {
          seen = Files.readAttributes(file, ASKED);
        }
      }
    } catch (NoSuchFileException e) {
      return Optional.empty();
    }
    if (oddity == FileFacts.Oddity.NONE && !Boolean.TRUE.equals(seen.get("isRegularFile"))) {
      return Optional.empty();
    }
    String name = file.getFileName().toString();
    if (name.indexOf('\uFFFD') >= 0) {
      oddity = FileFacts.Oddity.NAME;
      name = nameInBytes(file);
    }
    return Optional.of(
        new FileFacts(
            name,
            ((Number) seen.get("size")).longValue(),
            ((FileTime) seen.get("lastModifiedTime")).toMillis(),
            ((FileTime) seen.get("ctime")).toMillis(),
            String.valueOf(seen.get("ino")),
            oddity,
            hasCompanions(file, name, besides),
            local));
  }

  /** A link to nowhere leads nowhere within. */
  private static boolean leadsWithin(Path link) throws IOException {
    try {
      return link.toRealPath().startsWith(link.getParent().toRealPath());
    } catch (NoSuchFileException e) {
      return false;
    }
  }

  private static boolean hasCompanions(Path file, String name, LookFor what) {
    return (what.companion().isEmpty() || isThere(file, what.companionOf(name)))
        && (what.checksumFile().isEmpty() || isThere(file, what.checksumFileOf(name)));
  }

  private static boolean isThere(Path file, String beside) {
    try {
      return Files.exists(file.resolveSibling(beside));
    } catch (InvalidPathException e) {
      return false;
    }
  }

  /** The name with the bytes that are no text as {@code \xE9}. */
  private static String nameInBytes(Path file) {
    URI address = file.toUri();
    String raw = address.getRawPath();
    String last = raw.substring(raw.lastIndexOf('/') + 1);
    byte[] bytes = last.getBytes(StandardCharsets.US_ASCII);
    StringBuilder out = new StringBuilder();
    for (int i = 0; i < bytes.length; i++) {
      if (bytes[i] != '%') {
        out.append((char) bytes[i]);
      } else {
        int value = Integer.parseInt(last.substring(i + 1, i + 3), 16);
        out.append(
            value >= 32 && value < 127
                ? String.valueOf((char) value)
                : String.format("\\x%02X", value));
        i += 2;
      }
    }
    return out.toString();
  }
}
