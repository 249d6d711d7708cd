package dev.purser.core.definition;

/**
 * The address of an outside system, and who signs in there. The secret itself is in no definition.
 *
 * @param name within its kind
 * @param title for people
 * @param address http, https or sftp, to which paths are added
 * @param user who signs in; empty for nobody
 * @param secretFile a file on the service's host that holds the secret; empty for none
 * @param secretEnvironment a variable of the service's environment that does; empty for none
 * @param hostKey SHA-256 of an sftp server's key, as ssh-keygen prints it; else empty
 * @param region of an object store
 */
public record Connection(
    String name,
    String title,
    String address,
    String user,
    String secretFile,
    String secretEnvironment,
    String hostKey,
    String region) {
  /** Whether it leads to an sftp server. */
  public boolean isSftp() {
    return address.startsWith("sftp:");
  }
}
