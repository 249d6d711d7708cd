package dev.purser.agent;

import dev.purser.wire.agent.FilesTalk;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.RandomAccessFile;
import java.net.Socket;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;

/**
 * Answers for the files of this host, in the directories that its owner allows and nowhere else:
 * links are followed first, then it is looked where they lead.
 */
final class OwnFiles {
  private final List<Path> allowed;

  OwnFiles(Collection<Path> allowed) {
    this.allowed = List.copyOf(allowed);
  }

  /** Why there is nothing to be had; empty where there is. */
  String problem() {
    return allowed.isEmpty()
        ? FilesTalk.NONE_ALLOWED + "; its owner names directories with --files"
        : "";
  }

  /** It is refused, for good. */
  private static final class RefusedException extends IOException {
    private static final long serialVersionUID = 1;

    RefusedException(String why) {
      super(why);
    }
  }

  /** Answers until the other side hangs up. */
  void serve(Socket asker) {
    try (DataInputStream in = new DataInputStream(new BufferedInputStream(asker.getInputStream()));
        DataOutputStream out =
            new DataOutputStream(new BufferedOutputStream(asker.getOutputStream()))) {
      while (true) {
        answer(in.readUTF(), in, out);
        out.flush();
      }
    } catch (EOFException e) {
      return; // it has all that it wanted
    } catch (IOException e) {
      AgentLog.info("files are asked for no more: " + e.getMessage());
    }
  }

  private void answer(String word, DataInputStream in, DataOutputStream out) throws IOException {
    String path = in.readUTF();
    String more = word.equals(FilesTalk.MOVE) ? in.readUTF() : "";
    long offset = word.equals(FilesTalk.WRITE) ? in.readLong() : 0;
    try {
      switch (word) {
        case FilesTalk.LIST -> list(path, out);
        case FilesTalk.LOOK -> look(path, out);
        case FilesTalk.READ -> read(path, out);
        case FilesTalk.WRITE -> write(path, offset, in, out);
        case FilesTalk.MOVE -> {
          Files.move(sound(path), sound(more));
          out.writeByte(FilesTalk.GOOD);
        }
        case FilesTalk.REMOVE -> {
          Files.delete(sound(path));
          out.writeByte(FilesTalk.GOOD);
        }
        default -> throw new RefusedException("this agent does not know \"" + word + "\"");
      }
    } catch (RefusedException e) {
      say(out, FilesTalk.REFUSED, e.getMessage());
    } catch (NoSuchFileException e) {
      say(out, FilesTalk.REFUSED, e.getFile() + " does not exist");
    } catch (AccessDeniedException e) {
      say(out, FilesTalk.REFUSED, "the agent's user may not use " + e.getFile());
    } catch (FileAlreadyExistsException e) {
      say(out, FilesTalk.REFUSED, e.getFile() + " is there already");
    } catch (IOException e) {
      say(out, FilesTalk.FAILED, String.valueOf(e.getMessage()));
    }
  }

  private static void say(DataOutputStream out, byte what, String why) throws IOException {
    out.writeByte(what);
    out.writeUTF(why.length() > 500 ? why.substring(0, 500) : why);
  }

  /** A path whose directory is allowed, with its links followed. */
  private Path sound(String path) throws IOException {
    Path asked = path(path);
    Path name = asked.getFileName();
    if (!asked.isAbsolute() || name == null || name.toString().equals("..")) {
      throw new RefusedException(path + " is not an absolute path of a file");
    }
    return directory(asked.getParent().toString()).resolve(name);
  }

  private static Path path(String path) throws RefusedException {
    try {
      return Path.of(path);
    } catch (InvalidPathException e) {
      throw new RefusedException("that is not a path");
    }
  }

  private Path directory(String path) throws IOException {
    Path real = path(path).toRealPath();
    for (Path one : allowed) {
      if (real.startsWith(one.toRealPath())) {
        return real;
      }
    }
    throw new RefusedException(
        path + " is not in a directory that the owner of this host allows (--files)");
  }

  private void list(String path, DataOutputStream out) throws IOException {
    List<Path> files = new ArrayList<>();
    try (DirectoryStream<Path> all = Files.newDirectoryStream(directory(path))) {
      all.forEach(files::add);
    }
    out.writeByte(FilesTalk.GOOD);
    for (Path file : files) {
      if (Files.isSymbolicLink(file) || Files.isRegularFile(file)) {
        out.writeByte(1);
        describe(file, out);
      }
    }
    out.writeByte(0);
  }

  private void describe(Path file, DataOutputStream out) throws IOException {
    boolean leadsOut = leadsOut(file);
    BasicFileAttributes seen =
        leadsOut
            ? Files.readAttributes(file, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS)
            : Files.readAttributes(file, BasicFileAttributes.class);
    out.writeUTF(file.getFileName().toString());
    out.writeLong(seen.size());
    out.writeLong(seen.lastModifiedTime().toMillis());
    out.writeBoolean(leadsOut);
  }

  private static boolean leadsOut(Path file) {
    try {
      return Files.isSymbolicLink(file)
          && !file.toRealPath().startsWith(file.getParent().toRealPath());
    } catch (IOException e) {
      return true; // nowhere
    }
  }

  private void look(String path, DataOutputStream out) throws IOException {
    Path file = sound(path);
    boolean there = Files.exists(file, LinkOption.NOFOLLOW_LINKS);
    out.writeByte(FilesTalk.GOOD);
    out.writeBoolean(there);
    if (there) {
      describe(file, out);
    }
  }

  private void read(String path, DataOutputStream out) throws IOException {
    Path file = sound(path);
    if (leadsOut(file)) {
      throw new RefusedException(path + " is a link that leads out of its directory");
    }
    try (InputStream content = Files.newInputStream(file)) {
      out.writeByte(FilesTalk.GOOD);
      byte[] piece = new byte[FilesTalk.PIECE];
      for (int count = content.read(piece); count >= 0; count = content.read(piece)) {
        out.writeInt(count);
        out.write(piece, 0, count);
      }
      out.writeInt(0);
    }
  }

  private void write(String path, long offset, DataInputStream in, DataOutputStream out)
      throws IOException {
    Path file = sound(path);
    if (Files.isSymbolicLink(file)) {
      throw new RefusedException(path + " is a link");
    }
    IOException failure = null;
    try (RandomAccessFile target = new RandomAccessFile(file.toFile(), "rw")) {
      out.writeByte(FilesTalk.GOOD);
      out.flush();
      target.setLength(offset);
      target.seek(offset);
      failure = take(in, target);
      target.getFD().sync();
    } catch (java.io.FileNotFoundException e) {
      throw new RefusedException("cannot write " + path + ": " + e.getMessage());
    }
    if (failure != null) {
      throw failure;
    }
    out.writeByte(FilesTalk.GOOD);
  }

  /** What cannot be written is read all the same: the answer comes after it. */
  private static IOException take(DataInputStream in, RandomAccessFile target) throws IOException {
    IOException failure = null;
    byte[] piece = new byte[FilesTalk.PIECE];
    for (int length = in.readInt(); length > 0; length = in.readInt()) {
      if (length > piece.length) {
        throw new EOFException("a piece that is too long");
      }
      in.readFully(piece, 0, length);
      if (failure == null) {
        try {
          target.write(piece, 0, length);
        } catch (IOException e) {
          failure = e;
        }
      }
    }
    return failure;
  }

  /** A connection of this program with itself, at whose other end the files are. */
  Socket door(java.util.concurrent.Executor threads) throws IOException {
    try (java.net.ServerSocket door =
        new java.net.ServerSocket(0, 1, java.net.InetAddress.getLoopbackAddress())) {
      Socket asker = new Socket(door.getInetAddress(), door.getLocalPort());
      Socket answers = door.accept();
      if (answers.getPort() != asker.getLocalPort()) {
        answers.close();
        asker.close();
        throw new IOException("somebody else came in; try again");
      }
      threads.execute(() -> serve(answers));
      return asker;
    }
  }
}
