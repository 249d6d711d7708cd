package dev.purser.service.parcel;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.Key;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Parcels that are signed, and what a service takes that asks for a signature. */
class ParcelZipTest {
  private static final String FILE = "definitions/stream/fuel/stock-count.yaml";
  private static final String TEXT = "stream: fuel/stock-count\n";
  private static final ParcelKeys ANY = new ParcelKeys("", "");

  @TempDir private Path folder;
  private ParcelKeys own;
  private ParcelKeys trusting;

  @BeforeEach
  void keys() throws IOException, GeneralSecurityException {
    KeyPair test = KeyPairGenerator.getInstance("Ed25519").generateKeyPair();
    KeyPair other = KeyPairGenerator.getInstance("Ed25519").generateKeyPair();
    Path signers = Files.createDirectory(folder.resolve("signers"));
    pem(folder.resolve("own.pem"), "PRIVATE KEY", test.getPrivate());
    pem(signers.resolve("another.pem"), "PUBLIC KEY", other.getPublic());
    pem(signers.resolve("test-site.pem"), "PUBLIC KEY", test.getPublic());
    Files.writeString(signers.resolve("broken.pem"), "-----BEGIN PUBLIC KEY-----\nAAAA\n");
    own = new ParcelKeys(folder.resolve("own.pem").toString(), "");
    trusting = new ParcelKeys("", signers.toString());
  }

  private static void pem(Path file, String what, Key key) throws IOException {
    Files.writeString(
        file,
        "-----BEGIN "
            + what
            + "-----\n"
            + Base64.getMimeEncoder().encodeToString(key.getEncoded())
            + "\n-----END "
            + what
            + "-----\n");
  }

  private static byte[] packed(Optional<ParcelKeys> keys) {
    Manifest manifest =
        new Manifest(
            Manifest.FORMAT,
            Manifest.OWN_VERSION,
            "test",
            4,
            "ada",
            Instant.parse("2027-03-04T10:00:00Z"),
            List.of(
                new Manifest.Content(
                    "stream",
                    "fuel/stock-count",
                    FILE,
                    ParcelZip.sum(TEXT.getBytes(StandardCharsets.UTF_8)))),
            List.of("host depot"));
    return ParcelZip.pack(manifest, Map.of(FILE, TEXT), keys);
  }

  /** The same zip with another text in the place of one. */
  private static byte[] changed(byte[] parcel, String from, String to) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(parcel));
        ZipOutputStream zip = new ZipOutputStream(out)) {
      for (ZipEntry entry = in.getNextEntry(); entry != null; entry = in.getNextEntry()) {
        byte[] bytes = in.readAllBytes();
        String text = new String(bytes, StandardCharsets.ISO_8859_1).replace(from, to);
        zip.putNextEntry(new ZipEntry(entry.getName()));
        zip.write(text.getBytes(StandardCharsets.ISO_8859_1));
        zip.closeEntry();
      }
    }
    return out.toByteArray();
  }

  @Test
  void whatIsPackedIsOpenedAndTheSameEachTime() {
    byte[] parcel = packed(Optional.empty());
    assertThat(packed(Optional.empty())).isEqualTo(parcel);
    ParcelZip.Opened opened = ParcelZip.open(parcel, ANY);
    assertThat(opened.texts()).containsExactly(Map.entry(FILE, TEXT));
    assertThat(opened.manifest().from()).isEqualTo("test");
    assertThat(opened.signed()).isFalse();
  }

  @Test
  void aSignatureSaysWhoOfThoseWhoAreTrusted() {
    byte[] parcel = packed(Optional.of(own));
    assertThat(ParcelZip.open(parcel, trusting).signedBy()).contains("test-site");
    ParcelZip.Opened elsewhere = ParcelZip.open(parcel, ANY);
    assertThat(elsewhere.signed()).isTrue();
    assertThat(elsewhere.signedBy()).as("nobody is trusted there").isEmpty();
  }

  @Test
  void whoAsksForASignatureTakesNoOther() throws IOException {
    assertThatThrownBy(() -> ParcelZip.open(packed(Optional.empty()), trusting))
        .hasMessageContaining("is not signed; this service takes only those that are");
    byte[] manifest = changed(packed(Optional.of(own)), "\"ada\"", "\"eve\"");
    assertThatThrownBy(() -> ParcelZip.open(manifest, trusting))
        .hasMessageContaining("was changed after it was signed");
    byte[] text = changed(packed(Optional.of(own)), "stream: fuel", "stream: evil");
    assertThatThrownBy(() -> ParcelZip.open(text, trusting))
        .hasMessageContaining("was changed after it was packed");
    Path nobody = Files.createDirectory(folder.resolve("nobody"));
    assertThatThrownBy(
            () -> ParcelZip.open(packed(Optional.of(own)), new ParcelKeys("", nobody.toString())))
        .hasMessageContaining("not signed by anybody whom this service trusts");
    Files.delete(nobody);
    assertThatThrownBy(
            () -> ParcelZip.open(packed(Optional.of(own)), new ParcelKeys("", nobody.toString())))
        .hasMessageContaining("cannot be read");
  }

  @Test
  void aServiceWithoutAKeySaysHowToGiveItOne() throws IOException {
    assertThatThrownBy(() -> packed(Optional.of(ANY))).hasMessageContaining("PURSER_PARCEL_KEY");
    Path wrong = folder.resolve("wrong.pem");
    Files.writeString(wrong, "no key");
    assertThatThrownBy(() -> packed(Optional.of(new ParcelKeys(wrong.toString(), ""))))
        .hasMessageContaining("cannot be used to sign");
  }

  @Test
  void aZipThatUnfoldsWithoutEndIsLeft() throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(out)) {
      zip.putNextEntry(new ZipEntry("manifest.json"));
      byte[] nothing = new byte[1_000_000];
      for (int i = 0; i < 70; i++) {
        zip.write(nothing);
      }
      zip.closeEntry();
    }
    assertThat(out.size()).isLessThan(200_000);
    assertThatThrownBy(() -> ParcelZip.open(out.toByteArray(), ANY))
        .hasMessageContaining("the parcel is too large");
  }
}
