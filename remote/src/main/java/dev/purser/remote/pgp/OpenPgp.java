package dev.purser.remote.pgp;

import dev.purser.remote.place.RefusedException;
import java.io.ByteArrayInputStream;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.Iterator;
import java.util.Optional;
import org.bouncycastle.bcpg.HashAlgorithmTags;
import org.bouncycastle.bcpg.SymmetricKeyAlgorithmTags;
import org.bouncycastle.openpgp.PGPCompressedData;
import org.bouncycastle.openpgp.PGPEncryptedData;
import org.bouncycastle.openpgp.PGPEncryptedDataGenerator;
import org.bouncycastle.openpgp.PGPEncryptedDataList;
import org.bouncycastle.openpgp.PGPException;
import org.bouncycastle.openpgp.PGPKeyPair;
import org.bouncycastle.openpgp.PGPLiteralData;
import org.bouncycastle.openpgp.PGPLiteralDataGenerator;
import org.bouncycastle.openpgp.PGPMarker;
import org.bouncycastle.openpgp.PGPObjectFactory;
import org.bouncycastle.openpgp.PGPOnePassSignature;
import org.bouncycastle.openpgp.PGPOnePassSignatureList;
import org.bouncycastle.openpgp.PGPPrivateKey;
import org.bouncycastle.openpgp.PGPPublicKey;
import org.bouncycastle.openpgp.PGPPublicKeyEncryptedData;
import org.bouncycastle.openpgp.PGPPublicKeyRing;
import org.bouncycastle.openpgp.PGPPublicKeyRingCollection;
import org.bouncycastle.openpgp.PGPSecretKey;
import org.bouncycastle.openpgp.PGPSecretKeyRing;
import org.bouncycastle.openpgp.PGPSecretKeyRingCollection;
import org.bouncycastle.openpgp.PGPSignature;
import org.bouncycastle.openpgp.PGPSignatureGenerator;
import org.bouncycastle.openpgp.PGPSignatureList;
import org.bouncycastle.openpgp.PGPUtil;
import org.bouncycastle.openpgp.bc.BcPGPObjectFactory;
import org.bouncycastle.openpgp.operator.bc.BcKeyFingerprintCalculator;
import org.bouncycastle.openpgp.operator.bc.BcPBESecretKeyDecryptorBuilder;
import org.bouncycastle.openpgp.operator.bc.BcPGPContentSignerBuilder;
import org.bouncycastle.openpgp.operator.bc.BcPGPContentVerifierBuilderProvider;
import org.bouncycastle.openpgp.operator.bc.BcPGPDataEncryptorBuilder;
import org.bouncycastle.openpgp.operator.bc.BcPGPDigestCalculatorProvider;
import org.bouncycastle.openpgp.operator.bc.BcPublicKeyDataDecryptorFactory;
import org.bouncycastle.openpgp.operator.bc.BcPublicKeyKeyEncryptionMethodGenerator;

/** Seals and opens the content of files. Private keys have no passphrase of their own. */
public final class OpenPgp {
  private static final int PIECE = 1 << 16;

  private OpenPgp() {}

  /**
   * Encrypts and signs.
   *
   * @param name that the content has inside
   * @param encryptFor a file with a public key; empty for no encryption
   * @param signWith a private key, armored; empty for no signature
   * @throws RefusedException where a key cannot be used
   */
  public static void seal(
      InputStream plain, OutputStream out, String name, String encryptFor, String signWith)
      throws IOException {
    try {
      OutputStream inner = out;
      if (!encryptFor.isEmpty()) {
        PGPEncryptedDataGenerator generator =
            new PGPEncryptedDataGenerator(
                new BcPGPDataEncryptorBuilder(SymmetricKeyAlgorithmTags.AES_256)
                    .setWithIntegrityPacket(true)
                    .setSecureRandom(new SecureRandom()));
        generator.addMethod(new BcPublicKeyKeyEncryptionMethodGenerator(encryptionKey(encryptFor)));
        inner = generator.open(out, new byte[PIECE]);
      }
      sealed(plain, inner, name, signWith);
      if (inner != out) {
        inner.close();
      }
    } catch (PGPException e) {
      throw new RefusedException("cannot seal " + name + ": " + e.getMessage(), e);
    }
  }

  private static void sealed(InputStream plain, OutputStream out, String name, String signWith)
      throws IOException, PGPException {
    PGPSignatureGenerator signs = signWith.isEmpty() ? null : signs(signWith);
    if (signs != null) {
      signs.generateOnePassVersion(false).encode(out);
    }
    PGPLiteralDataGenerator literal = new PGPLiteralDataGenerator();
    byte[] piece = new byte[PIECE];
    try (OutputStream content =
        literal.open(out, PGPLiteralData.BINARY, name, PGPLiteralData.NOW, new byte[PIECE])) {
      for (int count = plain.read(piece); count >= 0; count = plain.read(piece)) {
        content.write(piece, 0, count);
        if (signs != null) {
          signs.update(piece, 0, count);
        }
      }
    }
    if (signs != null) {
      signs.generate().encode(out);
    }
  }

  private static PGPSignatureGenerator signs(String armored) throws IOException, PGPException {
    for (PGPSecretKeyRing ring : secretKeys(armored)) {
      for (Iterator<PGPSecretKey> all = ring.getSecretKeys(); all.hasNext(); ) {
        PGPSecretKey key = all.next();
        if (key.isSigningKey()) {
          PGPPublicKey open = key.getPublicKey();
          PGPSignatureGenerator signs =
              new PGPSignatureGenerator(
                  new BcPGPContentSignerBuilder(open.getAlgorithm(), HashAlgorithmTags.SHA256),
                  open);
          signs.init(PGPSignature.BINARY_DOCUMENT, privateKey(key));
          return signs;
        }
      }
    }
    throw new RefusedException("the secret holds no key that can sign");
  }

  /**
   * Decrypts, and looks at the signature. What was written counts only once this has ended well.
   *
   * @param decryptWith a private key, armored; empty where nothing is encrypted
   * @param signedBy a file with the public key of whoever must have signed; empty for nobody
   * @throws RefusedException where it cannot be opened, was changed, or is not signed by them
   */
  public static void open(InputStream sealed, OutputStream out, String decryptWith, String signedBy)
      throws IOException {
    Source source = new Source(sealed);
    try {
      PGPObjectFactory objects = new BcPGPObjectFactory(PGPUtil.getDecoderStream(source));
      Object first = next(objects);
      PGPPublicKeyEncryptedData encrypted = null;
      if (first instanceof PGPEncryptedDataList list) {
        encrypted = encryptedFor(list, decryptWith);
        PGPKeyPair key = keyFor(encrypted, decryptWith).orElseThrow();
        objects =
            new BcPGPObjectFactory(
                encrypted.getDataStream(new BcPublicKeyDataDecryptorFactory(key)));
        first = next(objects);
      } else if (!decryptWith.isEmpty()) {
        throw new RefusedException("it is not encrypted");
      }
      opened(first, objects, out, signedBy);
      if (encrypted != null && (!encrypted.isIntegrityProtected() || !encrypted.verify())) {
        throw new RefusedException("it was changed on its way");
      }
    } catch (RefusedException e) {
      throw e;
    } catch (IOException e) {
      if (source.failed) {
        throw e;
      }
      throw new RefusedException("it cannot be opened: it was changed, or is damaged", e);
    } catch (PGPException | RuntimeException e) { // the library's, of what it cannot read
      throw new RefusedException("it cannot be opened: " + e.getMessage(), e);
    }
  }

  /** Tells what could not be read from what could not be understood. */
  private static final class Source extends FilterInputStream {
    private boolean failed;

    Source(InputStream in) {
      super(in);
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] into, int from, int most) throws IOException {
      try {
        return super.read(into, from, most);
      } catch (IOException e) {
        failed = true;
        throw e;
      }
    }
  }

  private static Object next(PGPObjectFactory objects) throws IOException {
    Object one = objects.nextObject();
    return one instanceof PGPMarker ? objects.nextObject() : one;
  }

  private static void opened(
      Object first, PGPObjectFactory objects, OutputStream out, String signedBy)
      throws IOException, PGPException {
    Object object = first;
    PGPObjectFactory from = objects;
    if (object instanceof PGPCompressedData compressed) {
      from = new BcPGPObjectFactory(compressed.getDataStream());
      object = next(from);
    }
    PGPOnePassSignature signature = null;
    if (object instanceof PGPOnePassSignatureList signatures) {
      signature = signedBy.isEmpty() ? null : begun(signatures, signedBy);
      object = next(from);
    }
    if (signature == null && !signedBy.isEmpty()) {
      throw new RefusedException("it is not signed by whoever it must be signed by");
    }
    if (!(object instanceof PGPLiteralData literal)) {
      throw new RefusedException("it is not a file that OpenPGP has sealed");
    }
    InputStream content = literal.getInputStream();
    byte[] piece = new byte[PIECE];
    for (int count = content.read(piece); count >= 0; count = content.read(piece)) {
      out.write(piece, 0, count);
      if (signature != null) {
        signature.update(piece, 0, count);
      }
    }
    boolean good =
        signature == null
            || (next(from) instanceof PGPSignatureList ends && verified(signature, ends));
    if (!good) {
      throw new RefusedException("its signature is not good: it was changed on its way");
    }
  }

  private static PGPOnePassSignature begun(PGPOnePassSignatureList signatures, String signedBy)
      throws IOException, PGPException {
    PGPPublicKeyRingCollection keys = publicKeys(signedBy);
    for (PGPOnePassSignature one : signatures) {
      PGPPublicKey key = keys.getPublicKey(one.getKeyID());
      if (key != null) {
        one.init(new BcPGPContentVerifierBuilderProvider(), key);
        return one;
      }
    }
    return null;
  }

  private static boolean verified(PGPOnePassSignature begun, PGPSignatureList ends)
      throws PGPException {
    for (PGPSignature one : ends) {
      if (one.getKeyID() == begun.getKeyID()) {
        return begun.verify(one);
      }
    }
    return false;
  }

  private static PGPPublicKeyEncryptedData encryptedFor(PGPEncryptedDataList list, String armored)
      throws IOException, PGPException {
    if (armored.isEmpty()) {
      throw new RefusedException("it is encrypted, and the job says no \"decrypt-with\"");
    }
    for (PGPEncryptedData one : list) {
      if (one instanceof PGPPublicKeyEncryptedData forKey && keyFor(forKey, armored).isPresent()) {
        return forKey;
      }
    }
    throw new RefusedException("it is encrypted for somebody else");
  }

  private static Optional<PGPKeyPair> keyFor(PGPPublicKeyEncryptedData data, String armored)
      throws IOException, PGPException {
    PGPSecretKey key = secretKeys(armored).getSecretKey(data.getKeyIdentifier().getKeyId());
    return key == null
        ? Optional.empty()
        : Optional.of(new PGPKeyPair(key.getPublicKey(), privateKey(key)));
  }

  // ---- keys

  private static PGPPrivateKey privateKey(PGPSecretKey key) throws PGPException {
    return key.extractPrivateKey(
        new BcPBESecretKeyDecryptorBuilder(new BcPGPDigestCalculatorProvider()).build(new char[0]));
  }

  private static PGPSecretKeyRingCollection secretKeys(String armored)
      throws IOException, PGPException {
    byte[] bytes = armored.getBytes(StandardCharsets.US_ASCII);
    return new PGPSecretKeyRingCollection(
        PGPUtil.getDecoderStream(new ByteArrayInputStream(bytes)),
        new BcKeyFingerprintCalculator());
  }

  private static PGPPublicKeyRingCollection publicKeys(String file)
      throws IOException, PGPException {
    try (InputStream in = Files.newInputStream(Path.of(file))) {
      return new PGPPublicKeyRingCollection(
          PGPUtil.getDecoderStream(in), new BcKeyFingerprintCalculator());
    } catch (java.nio.file.NoSuchFileException e) {
      throw new RefusedException("there is no file " + file + " with a public key", e);
    }
  }

  private static PGPPublicKey encryptionKey(String file) throws IOException, PGPException {
    PGPPublicKey found = null;
    for (PGPPublicKeyRing ring : publicKeys(file)) {
      for (Iterator<PGPPublicKey> all = ring.getPublicKeys(); all.hasNext(); ) {
        PGPPublicKey key = all.next();
        if (key.isEncryptionKey() && !key.hasRevocation()) {
          found = key; // a subkey that is for encryption comes after its main key
        }
      }
    }
    if (found == null) {
      throw new RefusedException(file + " holds no key for which can be encrypted");
    }
    return found;
  }
}
