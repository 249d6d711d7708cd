package dev.purser.service.transfer;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;

/** Another program that seals and opens files by OpenPGP: GnuPG, with keys of its own. */
final class Gpg {
  private final Path home;

  Gpg(Path folder) throws IOException {
    // the path of a socket that it makes there must not be long
    home = Files.createTempDirectory(Path.of("/tmp"), "gpg");
    Files.setPosixFilePermissions(home, PosixFilePermissions.fromString("rwx------"));
    Files.createDirectories(folder);
  }

  /** Makes a key without a passphrase. */
  void key(String who) throws IOException, InterruptedException {
    run("--passphrase", "", "--quick-gen-key", who, "default", "default", "never");
  }

  /** A file with the public key. */
  Path open(String who, Path file) throws IOException, InterruptedException {
    Files.write(file, run("--armor", "--export", who));
    return file;
  }

  /** The private key, armored. */
  String secret(String who) throws IOException, InterruptedException {
    return new String(
        run("--armor", "--passphrase", "", "--export-secret-keys", who), StandardCharsets.UTF_8);
  }

  /** Runs it; gives what it wrote. */
  byte[] run(String... arguments) throws IOException, InterruptedException {
    List<String> command =
        new ArrayList<>(
            List.of(
                "gpg",
                "--homedir",
                home.toString(),
                "--batch",
                "--yes",
                "--quiet",
                "--pinentry-mode",
                "loopback",
                "--trust-model",
                "always"));
    command.addAll(List.of(arguments));
    Process process =
        new ProcessBuilder(command).redirectError(home.resolve("log").toFile()).start();
    byte[] out = process.getInputStream().readAllBytes();
    if (process.waitFor() != 0) {
      throw new IOException(command + ": " + Files.readString(home.resolve("log")));
    }
    return out;
  }

  /** Ends what it has left running. */
  void close() throws IOException, InterruptedException {
    new ProcessBuilder("gpgconf", "--homedir", home.toString(), "--kill", "all").start().waitFor();
  }
}
