package dev.purser.service.care;

import dev.purser.service.Settings;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.List;
import org.springframework.stereotype.Component;

/** Looks whether the links in alerts lead anywhere: whether the console answers at its address. */
@Component
class LinkLook implements Look {
  private static final Duration LIMIT = Duration.ofSeconds(3);

  private final HttpClient http = HttpClient.newBuilder().connectTimeout(LIMIT).build();
  private final Settings settings;

  LinkLook(Settings settings) {
    this.settings = settings;
  }

  @Override
  public String about() {
    return "links";
  }

  @Override
  public List<Finding> find() {
    String address = settings.consoleAddress();
    try {
      HttpRequest request =
          HttpRequest.newBuilder(URI.create(address + "/")).timeout(LIMIT).GET().build();
      HttpResponse<String> answer = http.send(request, HttpResponse.BodyHandlers.ofString());
      boolean ours = answer.statusCode() == 200 && answer.body().contains("<title>Purser");
      return List.of(
          ours
              ? Finding.good("links in alerts", "the console answers at " + address)
              : bad(
                  address + " answers " + answer.statusCode() + ", and not with Purser's console"));
    } catch (IOException | IllegalArgumentException e) {
      String why = e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
      return List.of(bad("the console does not answer at " + address + ": " + why));
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return List.of();
    }
  }

  private static Finding bad(String text) {
    return Finding.look(
        "links in alerts",
        text,
        "see PURSER_CONSOLE_ADDRESS: links in alerts begin with it. It is tried from this machine;"
            + " people may reach it all the same");
  }
}
