package dev.purser.bench.load;

import dev.purser.outside.SshServer;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.keyverifier.AcceptAllServerKeyVerifier;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.util.security.SecurityUtils;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClientFactory;
import tools.jackson.databind.JsonNode;

/**
 * A large file from an SFTP server to itself: by a transfer, with all that it checks, beside a bare
 * copy with the same library, and OpenSSH's own client; by turns, the best of each. Arguments: the
 * service's address, a token, how many megabytes, how many turns.
 */
public final class TransferLoad {
  private static final int PIECE = 64 * 1024;
  private static final String STREAM = "bench/brought";

  private final Service service;
  private final Path home;
  private final SshServer server;
  private final int megabytes;

  private TransferLoad(Service service, Path home, SshServer server, int megabytes) {
    this.service = service;
    this.home = home;
    this.server = server;
    this.megabytes = megabytes;
  }

  /** Runs it. */
  public static void main(String[] args) throws Exception {
    Path home = Files.createTempDirectory("purser-transfer-bench");
    try (SshServer server = new SshServer(Files.createDirectories(home.resolve("keys")))) {
      TransferLoad load =
          new TransferLoad(new Service(args[0], args[1]), home, server, Integer.parseInt(args[2]));
      load.run(Integer.parseInt(args[3]));
    }
  }

  private void run(int turns) throws Exception {
    Files.createDirectories(home.resolve("in"));
    Path file = Files.createDirectories(home.resolve("out")).resolve("day.bin");
    byte[] piece = new byte[1024 * 1024];
    try (RandomAccessFile out = new RandomAccessFile(file.toFile(), "rw")) {
      for (int i = 0; i < megabytes; i++) {
        new Random(i).nextBytes(piece);
        out.write(piece);
      }
    }
    publish();
    double[] best = new double[3];
    for (int i = 0; i < turns; i++) {
      best[0] = Math.max(best[0], rate(this::transfer));
      best[1] = Math.max(best[1], rate(this::bare));
      best[2] = Math.max(best[2], rate(this::openSsh));
    }
    System.out.printf(
        "%d MB over SFTP and back: a transfer %.0f MB/s, a bare copy with the same library %.0f MB/s,"
            + " OpenSSH's client %.0f MB/s; the transfer reaches %.0f %% of the bare copy, %.0f %% of"
            + " OpenSSH%n",
        megabytes, best[0], best[1], best[2], 100 * best[0] / best[1], 100 * best[0] / best[2]);
  }

  private interface Copy {
    /** Copies the file once, and gives the seconds that it took. */
    double seconds() throws Exception;
  }

  private double rate(Copy copy) throws Exception {
    Path copied = home.resolve("in/day.bin");
    Files.deleteIfExists(copied);
    double rate = megabytes / copy.seconds();
    if (Files.mismatch(home.resolve("out/day.bin"), copied) >= 0) {
      throw new IllegalStateException("the copy differs");
    }
    return rate;
  }

  private void publish() throws IOException, InterruptedException {
    service.post(
        "/api/v1/secrets",
        Map.of(
            "source",
            "file",
            "name",
            server.clientKey.toString(),
            "address",
            "sftp://127.0.0.1:" + server.port,
            "reason",
            "bench"));
    service.post(
        "/api/v1/definitions",
        Service.file(
            """
            connection: bench-quay
            address: sftp://127.0.0.1:%d
            user: %s
            secret-file: %s
            host-key: %s
            ---
            stream: %s
            jobs:
              bring: { transfer: '%s/*.bin from bench-quay to %s on bench-quay' }
            """
                .formatted(
                    server.port,
                    System.getProperty("user.name"),
                    server.clientKey,
                    server.hostKey,
                    STREAM,
                    home.resolve("out"),
                    home.resolve("in"))));
  }

  /** From the begin of the run to its end, as they are on record. */
  private double transfer() throws IOException, InterruptedException {
    JsonNode started =
        service.post(
            "/api/v1/starts",
            Map.of(
                "stream",
                STREAM,
                "job",
                "",
                "date",
                LocalDate.now(ZoneOffset.UTC).toString(),
                "reason",
                "bench"));
    long id = started.get("runs").get(0).get("id").asLong();
    while (true) {
      JsonNode run = service.get("/api/v1/runs/" + id).get("run");
      String state = run.get("state").asString();
      if (state.equals("succeeded")) {
        Instant began = Instant.parse(run.get("started").asString());
        return Duration.between(began, Instant.parse(run.get("ended").asString())).toMillis() / 1e3;
      }
      if (state.equals("failed")) {
        throw new IllegalStateException(run.toString());
      }
      Thread.sleep(50);
    }
  }

  private double bare() throws IOException, GeneralSecurityException {
    try (SshClient ssh = SshClient.setUpDefaultClient()) {
      ssh.setServerKeyVerifier(AcceptAllServerKeyVerifier.INSTANCE); // it is our own
      ssh.start();
      long began = System.nanoTime();
      try (ClientSession from = session(ssh);
          ClientSession to = session(ssh);
          SftpClient reads = SftpClientFactory.instance().createSftpClient(from);
          SftpClient writes = SftpClientFactory.instance().createSftpClient(to);
          InputStream in = reads.read(home.resolve("out/day.bin").toString());
          OutputStream out = writes.write(home.resolve("in/day.bin").toString())) {
        byte[] piece = new byte[PIECE];
        for (int count = in.read(piece); count >= 0; count = in.read(piece)) {
          out.write(piece, 0, count);
        }
      }
      return (System.nanoTime() - began) / 1e9;
    }
  }

  private ClientSession session(SshClient ssh) throws IOException, GeneralSecurityException {
    Duration limit = Duration.ofSeconds(15);
    ClientSession session =
        ssh.connect(System.getProperty("user.name"), "127.0.0.1", server.port)
            .verify(limit)
            .getSession();
    try (InputStream key = Files.newInputStream(server.clientKey)) {
      for (KeyPair pair :
          SecurityUtils.loadKeyPairIdentities(session, NamedResource.ofName("key"), key, null)) {
        session.addPublicKeyIdentity(pair);
      }
    }
    session.auth().verify(limit);
    return session;
  }

  /** Its own way from one server to another through this machine. */
  private double openSsh() throws IOException, InterruptedException {
    String host = System.getProperty("user.name") + "@127.0.0.1";
    String base = "scp://" + host + ":" + server.port;
    List<String> command =
        Arrays.asList(
            "scp",
            "-3",
            "-q",
            "-i",
            server.clientKey.toString(),
            "-o",
            "StrictHostKeyChecking=no",
            "-o",
            "UserKnownHostsFile=/dev/null",
            "-o",
            "LogLevel=ERROR",
            base + "/" + home.resolve("out/day.bin"),
            base + "/" + home.resolve("in/day.bin"));
    long began = System.nanoTime();
    int code = new ProcessBuilder(command).inheritIO().start().waitFor();
    if (code != 0) {
      throw new IllegalStateException("scp ended with " + code);
    }
    return (System.nanoTime() - began) / 1e9;
  }
}
