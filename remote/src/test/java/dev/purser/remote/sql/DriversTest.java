package dev.purser.remote.sql;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;
import javax.tools.JavaCompiler;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A driver that is compiled here and put into a directory, as an administrator would. */
class DriversTest {
  private static final String ADDRESS = "jdbc:lighthouse:keeper;file=x";
  private static final String SOURCE =
      """
      package lighthouse;
      import java.sql.*;
      import java.util.Properties;
      public class Lamp implements Driver {
        public Connection connect(String url, Properties info) { return null; }
        public boolean acceptsURL(String url) { return url.startsWith("jdbc:lighthouse:"); }
        public DriverPropertyInfo[] getPropertyInfo(String url, Properties info) { return null; }
        public int getMajorVersion() { return 1; }
        public int getMinorVersion() { return 0; }
        public boolean jdbcCompliant() { return false; }
        public java.util.logging.Logger getParentLogger() { return null; }
      }
      """;

  @TempDir private Path folder;

  private Path drivers() throws IOException {
    Path source = Files.createDirectories(folder.resolve("src/lighthouse")).resolve("Lamp.java");
    Files.writeString(source, SOURCE);
    JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
    assertThat(compiler.run(null, null, null, source.toString())).isZero();
    Path drivers = Files.createDirectories(folder.resolve("drivers"));
    try (OutputStream file = Files.newOutputStream(drivers.resolve("lighthouse.jar"));
        JarOutputStream jar = new JarOutputStream(file)) {
      jar.putNextEntry(new JarEntry("lighthouse/Lamp.class"));
      jar.write(Files.readAllBytes(source.resolveSibling("Lamp.class")));
      jar.putNextEntry(new JarEntry("META-INF/services/java.sql.Driver"));
      jar.write("lighthouse.Lamp".getBytes(StandardCharsets.UTF_8));
    }
    return drivers;
  }

  @Test
  void aDriverThatWasPutThereIsUsedForAddressesThatMayBeUsed() throws IOException {
    Path drivers = drivers();
    Drivers all = new Drivers(drivers.toString());
    assertThatThrownBy(() -> all.of(ADDRESS)).hasMessageContaining("may not be used");
    Files.writeString(drivers.resolve("addresses"), ADDRESS + "\njdbc:other:x\n");
    assertThat(all.of(ADDRESS).getClass().getName()).isEqualTo("lighthouse.Lamp");
    assertThatThrownBy(() -> all.of(ADDRESS + ";init=y")).hasMessageContaining("may not be used");
    assertThatThrownBy(() -> all.of("jdbc:other:x")).hasMessageContaining("no driver in");
  }

  @Test
  void withoutADirectoryThereAreNone() {
    assertThatThrownBy(() -> new Drivers("").of(ADDRESS)).hasMessageContaining("PURSER_DRIVERS");
  }
}
