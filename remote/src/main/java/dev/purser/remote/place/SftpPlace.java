package dev.purser.remote.place;

import dev.purser.core.definition.Connection;
import dev.purser.remote.http.Ports;
import dev.purser.remote.http.Site;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.time.Duration;
import java.util.EnumSet;
import java.util.Optional;
import java.util.function.Consumer;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.util.security.SecurityUtils;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClientFactory;
import org.apache.sshd.sftp.common.SftpConstants;
import org.apache.sshd.sftp.common.SftpException;

/** A directory over SFTP. The server is trusted by its key only. */
final class SftpPlace implements RemotePlace {
  private static final Duration LIMIT = Duration.ofSeconds(15);

  private final SshClient ssh;
  private final ClientSession session;
  private final SftpClient sftp;

  /**
   * Connects.
   *
   * @param site its secret is a password, or a private key as a PEM text
   * @throws IOException with what is wrong
   */
  SftpPlace(Site site) throws IOException {
    Connection connection = site.connection();
    URI address = URI.create(connection.address());
    InetSocketAddress where = site.road().to(address.getHost(), Ports.of(address));
    ssh = SshClient.setUpDefaultClient();
    String[] offered = {""};
    ssh.setServerKeyVerifier(
        (from, peer, key) -> {
          offered[0] = KeyUtils.getFingerPrint(key);
          return offered[0].equals(connection.hostKey());
        });
    ssh.start();
    ClientSession opened = null;
    try {
      opened =
          ssh.connect(connection.user(), where.getHostString(), where.getPort())
              .verify(LIMIT)
              .getSession();
      identify(opened, site.secret());
      opened.auth().verify(LIMIT);
      sftp = SftpClientFactory.instance().createSftpClient(opened);
      session = opened;
    } catch (IOException | GeneralSecurityException e) {
      if (opened != null) {
        opened.close(true);
      }
      ssh.stop();
      boolean other = !offered[0].isEmpty() && !offered[0].equals(connection.hostKey());
      throw new IOException(
          other
              ? "the server has another key than the connection trusts: " + offered[0]
              : "cannot sign in at " + connection.address() + ": " + e.getMessage(),
          e);
    }
  }

  private static void identify(ClientSession session, String secret)
      throws IOException, GeneralSecurityException {
    if (!secret.startsWith("-----BEGIN")) {
      session.addPasswordIdentity(secret);
      return;
    }
    Iterable<KeyPair> pairs =
        SecurityUtils.loadKeyPairIdentities(
            session,
            NamedResource.ofName("the connection's secret"),
            new java.io.ByteArrayInputStream(secret.getBytes(StandardCharsets.UTF_8)),
            null);
    for (KeyPair pair : pairs) {
      session.addPublicKeyIdentity(pair);
    }
  }

  @Override
  public void list(String directory, Consumer<RemoteFile> each) throws IOException {
    try {
      String whole = sftp.canonicalPath(directory);
      for (SftpClient.DirEntry entry : sftp.readDir(directory)) {
        file(whole, entry.getFilename(), entry.getAttributes()).ifPresent(each);
      }
    } catch (SftpException e) {
      throw explained(directory, e);
    }
  }

  private Optional<RemoteFile> file(String directory, String name, SftpClient.Attributes seen)
      throws IOException {
    SftpClient.Attributes attributes = seen;
    boolean leadsOut = false;
    if (attributes.isSymbolicLink()) {
      try {
        String target = sftp.canonicalPath(directory + "/" + name);
        leadsOut = !target.startsWith(directory + "/");
        attributes = leadsOut ? seen : sftp.stat(target);
      } catch (SftpException e) {
        leadsOut = true;
      }
    }
    return leadsOut || attributes.isRegularFile()
        ? Optional.of(
            new RemoteFile(
                name, attributes.getSize(), attributes.getModifyTime().toMillis(), "", leadsOut))
        : Optional.empty();
  }

  @Override
  public Optional<RemoteFile> look(String path) throws IOException {
    try {
      int slash = path.lastIndexOf('/');
      return file(path.substring(0, slash), path.substring(slash + 1), sftp.lstat(path));
    } catch (SftpException e) {
      if (e.getStatus() == SftpConstants.SSH_FX_NO_SUCH_FILE) {
        return Optional.empty();
      }
      throw explained(path, e);
    }
  }

  @Override
  public InputStream read(String path) throws IOException {
    return sftp.read(path);
  }

  @Override
  public void write(String path, InputStream content, long size, long offset) throws IOException {
    EnumSet<SftpClient.OpenMode> modes =
        EnumSet.of(SftpClient.OpenMode.Write, SftpClient.OpenMode.Create);
    if (offset == 0) {
      modes.add(SftpClient.OpenMode.Truncate);
    } else {
      modes.add(SftpClient.OpenMode.Append);
    }
    try (OutputStream out = sftp.write(path, modes)) {
      content.transferTo(out);
    } catch (SftpException e) {
      throw explained(path, e);
    }
  }

  @Override
  public boolean goesOn() {
    return true;
  }

  @Override
  public void move(String path, String target) throws IOException {
    sftp.rename(path, target);
  }

  @Override
  public void remove(String path) throws IOException {
    sftp.remove(path);
  }

  private static IOException explained(String path, SftpException e) {
    String what =
        switch (e.getStatus()) {
          case SftpConstants.SSH_FX_NO_SUCH_FILE -> path + " does not exist";
          case SftpConstants.SSH_FX_PERMISSION_DENIED -> "the user may not use " + path;
          default -> "cannot use " + path + ": " + e.getMessage();
        };
    return new RefusedException(what, e);
  }

  @Override
  public void close() {
    session.close(true);
    ssh.stop();
  }
}
