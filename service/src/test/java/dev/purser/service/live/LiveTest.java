package dev.purser.service.live;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.service.OnDatabase;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;

/** Whoever was away for a while is told what was missed. */
class LiveTest extends OnDatabase {
  @LocalServerPort private int port;
  @Autowired private Live live;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  private final HttpClient http = HttpClient.newHttpClient();
  private String token = "";

  @BeforeEach
  void listener() {
    people.save("listener", Role.VIEWER, passwords.hash("a-password-of-ours"), false);
    token = tokens.make("listener", "t", TokenScope.API, Tokens.USUAL).secret();
  }

  /** An event: its id, name and data. */
  private record Event(String id, String name, String data) {}

  /** Listens, and takes events until one has some text in its data. */
  private Event listen(String lastHeard, String until) throws IOException, InterruptedException {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/v1/changes"))
            .header("Authorization", "Bearer " + token);
    if (!lastHeard.isEmpty()) {
      request.header("Last-Event-ID", lastHeard);
    }
    HttpResponse<InputStream> answer =
        http.send(request.build(), HttpResponse.BodyHandlers.ofInputStream());
    BufferedReader lines =
        new BufferedReader(new InputStreamReader(answer.body(), StandardCharsets.UTF_8));
    String id = "";
    String name = "";
    for (String line = lines.readLine(); line != null; line = lines.readLine()) {
      if (line.startsWith("id:")) {
        id = line.substring(3);
      } else if (line.startsWith("event:")) {
        name = line.substring(6);
      } else if (line.startsWith("data:") && line.contains(until)) {
        return new Event(id, name, line.substring(5));
      }
    }
    throw new AssertionError("the stream has ended");
  }

  @Test
  void whatWasMissedIsToldAtOnce() throws Exception {
    Event first = listen("", "topics");
    assertThat(first.name()).isEqualTo("alive");
    live.outputGrew(4711);
    live.tell();
    live.hostsChanged();
    live.tell();
    Event back = listen(first.id(), "topics");
    assertThat(back.name()).isEqualTo("changes");
    assertThat(back.data()).contains("output 4711").contains("hosts");
    assertThat(listen(back.id(), "topics").data()).doesNotContain("output 4711");
  }

  @Test
  void whoComesFromAnotherLifeIsToldThatAllMayHaveChanged() throws Exception {
    for (String stranger : new String[] {"abc-1", "nonsense", "x".repeat(200)}) {
      Event back = listen(stranger, "topics");
      assertThat(back.name()).isEqualTo("changes");
      assertThat(back.data()).contains("today", "calendars", "output");
    }
  }
}
