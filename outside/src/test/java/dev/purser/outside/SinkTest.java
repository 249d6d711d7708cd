package dev.purser.outside;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Writer;
import java.net.InetAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.snmp4j.CommunityTarget;
import org.snmp4j.PDU;
import org.snmp4j.Snmp;
import org.snmp4j.mp.SnmpConstants;
import org.snmp4j.smi.OID;
import org.snmp4j.smi.OctetString;
import org.snmp4j.smi.UdpAddress;
import org.snmp4j.smi.VariableBinding;
import org.snmp4j.transport.DefaultUdpTransportMapping;

class SinkTest {
  private final HttpClient http = HttpClient.newHttpClient();
  private final Sink sink;

  SinkTest() throws IOException {
    sink = new Sink(0, 0);
  }

  @AfterEach
  void close() {
    sink.close();
  }

  private int post(String body) throws IOException, InterruptedException {
    URI hook = URI.create("http://127.0.0.1:" + sink.httpPort() + "/hook");
    return http.send(
            HttpRequest.newBuilder(hook)
                .header("Content-Type", "application/cloudevents+json")
                .POST(HttpRequest.BodyPublishers.ofString(body))
                .build(),
            HttpResponse.BodyHandlers.discarding())
        .statusCode();
  }

  @Test
  void webhooksAreTakenInOrderAndShownWithoutBeingTrusted() throws Exception {
    assertThat(post("{\"a\":1}")).isEqualTo(204);
    assertThat(post("<script>alert(1)</script>")).isEqualTo(204);
    assertThat(sink.hooks())
        .extracting(Sink.Hook::body)
        .containsExactly("{\"a\":1}", "<script>alert(1)</script>");
    URI page = URI.create("http://127.0.0.1:" + sink.httpPort() + "/");
    String shown =
        http.send(HttpRequest.newBuilder(page).build(), HttpResponse.BodyHandlers.ofString())
            .body();
    assertThat(shown)
        .contains("2 webhook calls")
        .contains("&lt;script>".replace(">", "&gt;"))
        .doesNotContain("<script>");
  }

  @Test
  void itCanPlayAReceiverInTrouble() throws Exception {
    sink.refuseNext(2);
    assertThat(List.of(post("a"), post("b"), post("c"))).containsExactly(503, 503, 204);
    assertThat(sink.hooks()).extracting(Sink.Hook::body).containsExactly("c");
  }

  @Test
  void mailIsTakenBySmtp() throws Exception {
    try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), sink.smtpPort());
        BufferedReader in =
            new BufferedReader(
                new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8));
        Writer out =
            new java.io.OutputStreamWriter(socket.getOutputStream(), StandardCharsets.UTF_8)) {
      assertThat(in.readLine()).startsWith("220");
      for (String line :
          List.of(
              "HELO quay",
              "MAIL FROM:<purser@brannoch.example>",
              "RCPT TO:<desk@brannoch.example>",
              "DATA",
              "Subject: late\r\n\r\nThe manifest is late.\r\n.")) {
        out.write(line + "\r\n");
        out.flush();
        assertThat(in.readLine()).matches("(250|354).*");
      }
    }
    assertThat(sink.letters())
        .singleElement()
        .satisfies(
            letter -> {
              assertThat(letter.to()).isEqualTo("desk@brannoch.example");
              assertThat(letter.text()).contains("The manifest is late.");
            });
  }

  @Test
  void anInformIsTakenAndConfirmed() throws Exception {
    try (TrapSink traps = new TrapSink(0);
        Snmp sender = new Snmp(new DefaultUdpTransportMapping())) {
      sender.listen();
      CommunityTarget<UdpAddress> target = new CommunityTarget<>();
      target.setAddress(new UdpAddress("127.0.0.1/" + traps.port()));
      target.setCommunity(new OctetString("public"));
      target.setVersion(SnmpConstants.version2c);
      target.setTimeout(5_000);
      PDU inform = new PDU();
      inform.setType(PDU.INFORM);
      inform.add(new VariableBinding(SnmpConstants.snmpTrapOID, new OID("1.3.6.1.4.1.32473.1")));
      assertThat(sender.send(inform, target).getResponse()).isNotNull();
      assertThat(traps.traps())
          .singleElement()
          .satisfies(one -> assertThat(one.text()).contains("1.3.6.1.4.1.32473.1"));
    }
  }
}
