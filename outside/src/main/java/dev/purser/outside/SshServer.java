package dev.purser.outside;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/**
 * A real OpenSSH server on loopback, with keys of its own, as whoever starts it: for tests and
 * measurements.
 */
public final class SshServer implements AutoCloseable {
  /** Where it listens. */
  public final int port;

  /** SHA-256 of its key, as a connection says it. */
  public final String hostKey;

  /** A private key that lets one in. */
  public final Path clientKey;

  private final Process process;

  /** Starts one whose keys are in a folder. */
  public SshServer(Path folder) throws IOException, InterruptedException {
    Path host = folder.resolve("host");
    clientKey = folder.resolve("client");
    run("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", host.toString());
    run("ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-f", clientKey.toString());
    hostKey = run("ssh-keygen", "-l", "-f", host + ".pub").split(" ")[1];
    Files.copy(folder.resolve("client.pub"), folder.resolve("authorized"));
    try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      port = free.getLocalPort();
    }
    Path config = folder.resolve("config");
    Files.writeString(
        config,
        String.join(
            "\n",
            "Port " + port,
            "ListenAddress 127.0.0.1",
            "HostKey " + host,
            "AuthorizedKeysFile " + folder.resolve("authorized"),
            "PidFile none",
            "StrictModes no",
            "UsePAM no",
            "PermitRootLogin yes",
            "Subsystem sftp internal-sftp",
            ""));
    if (Files.isWritable(Path.of("/run"))) {
      Files.createDirectories(Path.of("/run/sshd"));
    }
    process =
        new ProcessBuilder(sshd(), "-D", "-e", "-f", config.toString())
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("log").toFile())
            .start();
    await(folder);
  }

  private static String sshd() {
    return Files.exists(Path.of("/usr/sbin/sshd")) ? "/usr/sbin/sshd" : "sshd";
  }

  private void await(Path folder) throws IOException, InterruptedException {
    for (int i = 0; i < 200; i++) {
      try {
        new Socket(InetAddress.getLoopbackAddress(), port).close();
        return;
      } catch (IOException e) {
        if (!process.isAlive()) {
          throw new IOException(Files.readString(folder.resolve("log")), e);
        }
        Thread.sleep(50);
      }
    }
    throw new IOException("the ssh server does not answer");
  }

  private static String run(String... command) throws IOException, InterruptedException {
    Process run = new ProcessBuilder(List.of(command)).redirectErrorStream(true).start();
    String out = new String(run.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    if (run.waitFor() != 0) {
      throw new IOException(String.join(" ", command) + ": " + out);
    }
    return out;
  }

  @Override
  public void close() {
    process.destroy();
  }
}
