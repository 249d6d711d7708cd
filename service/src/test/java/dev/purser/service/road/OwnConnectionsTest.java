package dev.purser.service.road;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import org.junit.jupiter.api.Test;

class OwnConnectionsTest {
  @Test
  void oursIsKnownFromThatOfSomebodyElse() throws Exception {
    try (ServerSocket door = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
      try (Socket own = new Socket(door.getInetAddress(), door.getLocalPort());
          Socket other = door.accept()) {
        assertThat(own.isConnected()).isTrue();
        assertThat(OwnConnections.isOwn(other)).isTrue();
      }
      assumeTrue(System.getProperty("user.name").equals("root"));
      Process stranger = asNobody(door.getLocalPort());
      try (Socket other = door.accept()) {
        assertThat(OwnConnections.isOwn(other)).isFalse();
      } finally {
        stranger.destroyForcibly();
      }
    }
  }

  /** Another user of this machine connects, and stays. */
  private static Process asNobody(int port) throws IOException {
    String script =
        "my (undef, undef, $uid) = getpwnam 'nobody'; $< = $> = $uid; use IO::Socket::INET;"
            + " my $s = IO::Socket::INET->new(PeerAddr => '127.0.0.1', PeerPort => "
            + port
            + ") or die; sleep 20;";
    return new ProcessBuilder("perl", "-e", script).inheritIO().start();
  }
}
