package dev.purser.service.channel;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import dev.purser.core.definition.Way;
import dev.purser.service.Settings;
import dev.purser.service.alert.Channel;
import java.io.IOException;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Traps to Debian's snmptrapd, and the MIB through Debian's smilint. */
class TrapChannelTest {
  @TempDir private Path work;
  private Process receiver;
  private Path log;
  private int port;
  private TrapChannel channel;

  @BeforeEach
  void start() throws IOException {
    try (DatagramSocket free = new DatagramSocket(0, InetAddress.getLoopbackAddress())) {
      port = free.getLocalPort();
    }
    Path secrets = Files.createDirectories(work.resolve("secrets"));
    Files.writeString(secrets.resolve("room"), "harbour\n");
    Files.writeString(secrets.resolve("wrong"), "not-the-right-one\n");
    Files.writeString(secrets.resolve("sign"), "a-sign-secret-1\n");
    Files.writeString(secrets.resolve("seal"), "a-seal-secret-1\n");
    Path conf =
        Files.writeString(
            work.resolve("snmptrapd.conf"),
            """
            createUser purser SHA-256 a-sign-secret-1 AES a-seal-secret-1
            authUser log purser priv
            authCommunity log harbour
            disableAuthorization no
            """);
    log = work.resolve("traps.log");
    ProcessBuilder starting =
        new ProcessBuilder(
            "/usr/sbin/snmptrapd",
            "-f",
            "-C",
            "-c",
            conf.toString(),
            "-Lf",
            log.toString(),
            "-On",
            "-m",
            "",
            "-F",
            "%v\n",
            "udp:127.0.0.1:" + port);
    starting.environment().put("SNMP_PERSISTENT_DIR", work.toString());
    starting.environment().put("SNMPCONFPATH", work.toString());
    receiver =
        starting.redirectErrorStream(true).redirectOutput(work.resolve("out").toFile()).start();
    Settings settings = Receivers.settings("" + secrets, "127.0.0.1");
    channel = new TrapChannel(settings, new NamedSecrets(settings), new Reachable(settings));
    await()
        .atMost(Duration.ofSeconds(10))
        .until(() -> Files.exists(log) && text().contains("NET-SNMP"));
  }

  @AfterEach
  void stop() throws InterruptedException {
    receiver.destroy();
    receiver.waitFor(); // it writes into the directory until then
  }

  private String text() throws IOException {
    return Files.readString(log, StandardCharsets.ISO_8859_1);
  }

  private Way way(Map<String, String> options) {
    return new Way("traps", "127.0.0.1:" + port, options);
  }

  private void arrives() {
    await()
        .atMost(Duration.ofSeconds(5))
        .untilAsserted(
            () ->
                assertThat(text())
                    .contains(".1.3.6.1.6.3.1.1.4.1.0 = OID: .1.3.6.1.4.1.32473.0.1")
                    .contains(".1.3.6.1.4.1.32473.1.1.0 = Gauge32: 12")
                    .contains(".1.3.6.1.4.1.32473.1.3.0 = INTEGER: 3")
                    .contains("STRING: \"Sign for it\"")
                    .contains("07 EB 03 04 03 00 00 00 2B 00 00"));
  }

  @Test
  void aTrapOfTheSecondVersionIsConfirmed() throws Channel.DeliveryFailed {
    String answer =
        channel.deliver(
            Receivers.message("Sign for it", Optional.empty()),
            way(Map.of("version", "v2c", "community", "room")));
    assertThat(answer).contains("confirmed");
    arrives();
  }

  @Test
  void aTrapOfTheThirdVersionIsSignedAndSealed() throws Channel.DeliveryFailed {
    Map<String, String> options =
        Map.of("version", "v3", "user", "purser", "signed-by", "sign", "sealed-by", "seal");
    channel.deliver(Receivers.message("Sign for it", Optional.empty()), way(options));
    arrives();
    channel.deliver(Receivers.message("Once more", Optional.empty()), way(options));
  }

  @Test
  void whoDoesNotKnowTheSecretIsNotBelieved() {
    assertThatThrownBy(
            () ->
                channel.deliver(
                    Receivers.message("a", Optional.empty()),
                    way(
                        Map.of(
                            "version",
                            "v3",
                            "user",
                            "purser",
                            "signed-by",
                            "wrong",
                            "sealed-by",
                            "seal"))))
        .isInstanceOf(Channel.DeliveryFailed.class)
        .message()
        .doesNotContain("not-the-right-one");
  }

  /** The standard modules that it imports come with the build, from npm's net-snmp. */
  @Test
  void theMibIsSound() throws IOException, InterruptedException {
    Path from = Path.of("../console/node_modules/net-snmp/lib/mibs");
    Path modules = Files.createDirectories(work.resolve("mibs"));
    for (String name : new String[] {"SNMPv2-SMI", "SNMPv2-TC", "SNMPv2-CONF"}) {
      Files.copy(from.resolve(name + ".mib"), modules.resolve(name));
    }
    Path conf = Files.writeString(work.resolve("smi.conf"), "path :" + modules + "\n");
    Process lint =
        new ProcessBuilder(
                "smilint", "-l", "6", "-c", conf.toString(), "../docs/mib/PURSER-MIB.mib")
            .redirectErrorStream(true)
            .start();
    assertThat(new String(lint.getInputStream().readAllBytes(), StandardCharsets.UTF_8)).isEmpty();
    assertThat(lint.waitFor()).isZero();
  }
}
