package dev.purser.service.road;

import java.io.IOException;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;

/** Tells connections of this process's user from those of other people on this machine. */
final class OwnConnections {
  private static final List<Path> TABLES =
      List.of(Path.of("/proc/self/net/tcp"), Path.of("/proc/self/net/tcp6"));
  private static final int USER = 7;

  private OwnConnections() {}

  /** Whether the other end of a connection, which is on this machine, is our own user's. */
  static boolean isOwn(Socket socket) throws IOException {
    String peer = hex(socket.getPort());
    String here = hex(socket.getLocalPort());
    String own = String.valueOf(Files.getAttribute(Path.of("/proc/self"), "unix:uid"));
    for (Path table : TABLES) {
      if (!Files.isReadable(table)) {
        continue;
      }
      for (String line : Files.readAllLines(table)) {
        // proc(5): number, local address, remote address, state, queues, timer, retransmits, user
        String[] fields = line.strip().split("\\s+");
        boolean meant =
            fields.length > USER && fields[1].endsWith(peer) && fields[2].endsWith(here);
        if (meant) {
          return fields[USER].equals(own);
        }
      }
    }
    return false;
  }

  private static String hex(int port) {
    return String.format(Locale.ROOT, ":%04X", port);
  }
}
