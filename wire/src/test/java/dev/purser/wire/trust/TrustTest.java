package dev.purser.wire.trust;

import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class TrustTest {
  @Test
  void whatHoldsNoCertificateIsSaid(@TempDir Path folder) throws IOException {
    Path empty = Files.createFile(folder.resolve("empty.pem"));
    assertThatThrownBy(() -> Trust.context(empty))
        .isInstanceOf(IOException.class)
        .hasMessageContaining("there is no certificate in");
    Path odd = Files.writeString(folder.resolve("odd.pem"), "-----BEGIN CERTIFICATE-----\nxx\n");
    assertThatThrownBy(() -> Trust.context(odd))
        .hasMessageContaining("cannot read the certificates");
    assertThatThrownBy(() -> Trust.context(folder.resolve("none")))
        .isInstanceOf(NoSuchFileException.class);
  }
}
