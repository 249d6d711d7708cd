package dev.purser.service.api.answer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.wire.trust.Trust;
import jakarta.servlet.http.HttpServlet;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.Base64;
import javax.net.ssl.SSLException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServer;

/** Https by one setting on each side. */
class TlsTest {
  private static final char[] PASSWORD = "of-a-test".toCharArray();

  /** A key and a certificate for this machine, as a site's own authority gives them. */
  private static void make(Path folder) throws Exception {
    Path store = folder.resolve("store.p12");
    Process keytool =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                "-genkeypair",
                "-alias",
                "a",
                "-keyalg",
                "EC",
                "-dname",
                "CN=purser",
                "-ext",
                "san=ip:127.0.0.1",
                "-ext",
                "bc:c",
                "-validity",
                "2",
                "-storetype",
                "PKCS12",
                "-keystore",
                store.toString(),
                "-storepass",
                new String(PASSWORD))
            .redirectErrorStream(true)
            .start();
    String said = new String(keytool.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(keytool.waitFor()).as(said).isZero();
    KeyStore keys = KeyStore.getInstance("PKCS12");
    try (InputStream in = Files.newInputStream(store)) {
      keys.load(in, PASSWORD);
    }
    write(folder.resolve("cert.pem"), "CERTIFICATE", keys.getCertificate("a").getEncoded());
    write(folder.resolve("key.pem"), "PRIVATE KEY", keys.getKey("a", PASSWORD).getEncoded());
  }

  private static void write(Path file, String what, byte[] bytes) throws IOException {
    String text = Base64.getMimeEncoder(64, new byte[] {'\n'}).encodeToString(bytes);
    Files.writeString(
        file, "-----BEGIN " + what + "-----\n" + text + "\n-----END " + what + "-----\n");
  }

  /** Says whether it was asked in a way that nobody reads. */
  private static final class Hello extends HttpServlet {
    private static final long serialVersionUID = 1L;

    @Override
    protected void doGet(HttpServletRequest request, HttpServletResponse response)
        throws IOException {
      request.getSession(true);
      response.getWriter().print("secure " + request.isSecure());
    }
  }

  @Test
  void whoHasTheAuthorityGetsThroughAndNobodyElseDoes(@TempDir Path folder) throws Exception {
    make(folder);
    TomcatServletWebServerFactory factory = new TomcatServletWebServerFactory(0);
    Tls.of(folder.toString()).customize(factory);
    WebServer server =
        factory.getWebServer(context -> context.addServlet("hello", new Hello()).addMapping("/"));
    server.start();
    try {
      HttpRequest request =
          HttpRequest.newBuilder(URI.create("https://127.0.0.1:" + server.getPort() + "/")).build();
      HttpClient trusting =
          HttpClient.newBuilder().sslContext(Trust.context(folder.resolve("cert.pem"))).build();
      HttpResponse<String> answer = trusting.send(request, HttpResponse.BodyHandlers.ofString());
      assertThat(answer.body()).isEqualTo("secure true");
      assertThat(answer.headers().firstValue("Set-Cookie").orElse("")).contains("Secure");
      HttpClient stranger = HttpClient.newHttpClient();
      assertThatThrownBy(() -> stranger.send(request, HttpResponse.BodyHandlers.ofString()))
          .isInstanceOf(SSLException.class);
    } finally {
      server.stop();
    }
  }

  @Test
  void withoutADirectoryNothingChanges() {
    TomcatServletWebServerFactory factory = new TomcatServletWebServerFactory(0);
    Tls.of("").customize(factory);
    assertThat(factory.getSsl()).isNull();
  }
}
