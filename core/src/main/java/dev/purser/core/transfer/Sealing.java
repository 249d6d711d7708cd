package dev.purser.core.transfer;

/**
 * What is done to files on their way, by OpenPGP (RFC 9580). Private keys are secrets that the
 * service keeps; of others there are the public keys, in files of the service.
 *
 * @param encryptFor a file with the public key of whoever may read them; empty for no encryption
 * @param signWith the name of the secret that signs them; empty for no signature
 * @param decryptWith the name of the secret that they are encrypted for; empty where they are not
 * @param signedBy a file with the public key of whoever must have signed them; empty for nobody
 */
public record Sealing(String encryptFor, String signWith, String decryptWith, String signedBy) {
  /** Files go as they are. */
  public static final Sealing NONE = new Sealing("", "", "", "");

  /** Whether they are encrypted or signed on their way. */
  public boolean seals() {
    return !encryptFor.isEmpty() || !signWith.isEmpty();
  }

  /** Whether they are decrypted, or their signature is looked at. */
  public boolean opens() {
    return !decryptWith.isEmpty() || !signedBy.isEmpty();
  }

  /** The name of a file behind it: with an ending more, or without it. */
  public String nameOf(String name) {
    if (seals()) {
      return name + ".pgp";
    }
    return opens() ? name.replaceFirst("\\.(pgp|gpg|asc)$", "") : name;
  }
}
