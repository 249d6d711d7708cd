package dev.purser.service.transfer;

import dev.purser.remote.http.Road;
import dev.purser.remote.place.RefusedException;
import dev.purser.remote.place.RemotePlace;
import dev.purser.wire.agent.FilesTalk;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * The own files of a host, in the directories that its owner allows, through its agent. Each of
 * what is read or written at once has a road of its own, so a file can be copied within a host.
 */
final class HostPlace implements RemotePlace {
  private static final int MILLIS_TO_ANSWER = 60_000;

  private final Road road;
  private final List<Talk> open = new ArrayList<>();
  private final Talk talk;

  HostPlace(Road road) throws IOException {
    this.road = road;
    this.talk = new Talk();
  }

  /** One conversation. */
  private final class Talk implements AutoCloseable {
    private final Socket socket;
    private final DataInputStream in;
    private final DataOutputStream out;

    Talk() throws IOException {
      InetSocketAddress where = where();
      socket = new Socket(where.getAddress(), where.getPort());
      socket.setSoTimeout(MILLIS_TO_ANSWER);
      in = new DataInputStream(new BufferedInputStream(socket.getInputStream(), FilesTalk.PIECE));
      out =
          new DataOutputStream(new BufferedOutputStream(socket.getOutputStream(), FilesTalk.PIECE));
      open.add(this);
    }

    DataOutputStream ask(String word, String path) throws IOException {
      out.writeUTF(word);
      out.writeUTF(path);
      return out;
    }

    void answered() throws IOException {
      out.flush();
      byte answer = in.readByte();
      if (answer == FilesTalk.REFUSED) {
        throw new RefusedException(in.readUTF());
      }
      if (answer != FilesTalk.GOOD) {
        throw new IOException(in.readUTF());
      }
    }

    RemoteFile file() throws IOException {
      return new RemoteFile(in.readUTF(), in.readLong(), in.readLong(), "", in.readBoolean());
    }

    @Override
    public void close() throws IOException {
      open.remove(this);
      socket.close();
    }
  }

  private InetSocketAddress where() throws IOException {
    try {
      return road.to(FilesTalk.FILES, 0);
    } catch (Road.BlockedException e) {
      throw e.getMessage().contains(FilesTalk.NONE_ALLOWED)
          ? new RefusedException(e.getMessage(), e)
          : e;
    }
  }

  @Override
  public void list(String directory, Consumer<RemoteFile> each) throws IOException {
    talk.ask(FilesTalk.LIST, directory.isEmpty() ? "/" : directory);
    talk.answered();
    while (talk.in.readByte() != 0) {
      each.accept(talk.file());
    }
  }

  @Override
  public Optional<RemoteFile> look(String path) throws IOException {
    talk.ask(FilesTalk.LOOK, path);
    talk.answered();
    return talk.in.readBoolean() ? Optional.of(talk.file()) : Optional.empty();
  }

  @Override
  public InputStream read(String path) throws IOException {
    Talk own = new Talk();
    own.ask(FilesTalk.READ, path);
    own.answered();
    return new Pieces(own);
  }

  /** The pieces of a file, one after another. */
  private static final class Pieces extends InputStream {
    private final Talk from;
    private int left;
    private boolean over;

    Pieces(Talk from) {
      this.from = from;
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] into, int at, int most) throws IOException {
      if (left == 0 && !over) {
        left = from.in.readInt();
        over = left == 0;
      }
      if (over) {
        return -1;
      }
      int count = from.in.read(into, at, Math.min(most, left));
      if (count < 0) {
        throw new IOException("the road broke off");
      }
      left -= count;
      return count;
    }

    @Override
    public void close() throws IOException {
      from.close();
    }
  }

  @Override
  public void write(String path, InputStream content, long size, long offset) throws IOException {
    try (Talk own = new Talk()) {
      own.ask(FilesTalk.WRITE, path).writeLong(offset);
      own.answered();
      byte[] piece = new byte[FilesTalk.PIECE];
      for (int count = content.read(piece); count >= 0; count = content.read(piece)) {
        if (count > 0) {
          own.out.writeInt(count);
          own.out.write(piece, 0, count);
        }
      }
      own.out.writeInt(0);
      own.answered();
    }
  }

  @Override
  public boolean goesOn() {
    return true;
  }

  @Override
  public void move(String path, String target) throws IOException {
    talk.ask(FilesTalk.MOVE, path).writeUTF(target);
    talk.answered();
  }

  @Override
  public void remove(String path) throws IOException {
    talk.ask(FilesTalk.REMOVE, path);
    talk.answered();
  }

  @Override
  public void close() {
    for (Talk one : List.copyOf(open)) {
      try {
        one.close();
      } catch (IOException e) {
        open.remove(one); // it is gone
      }
    }
  }
}
