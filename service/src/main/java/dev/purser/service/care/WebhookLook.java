package dev.purser.service.care;

import dev.purser.service.board.Engine;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Looks whether the receivers of webhooks can be reached. */
@Component
class WebhookLook implements Look {
  private static final int CONNECT_MILLIS = 2_000;

  private final Engine engine;

  WebhookLook(Engine engine) {
    this.engine = engine;
  }

  @Override
  public String about() {
    return "webhooks";
  }

  @Override
  public List<Finding> find() {
    Set<URI> hooks = new LinkedHashSet<>();
    InUse.recipients(engine).stream()
        .flatMap(one -> one.addresses("webhook").stream())
        .forEach(hook -> hooks.add(URI.create(hook)));
    List<Finding> all = new ArrayList<>();
    Set<String> seen = new LinkedHashSet<>();
    for (URI hook : hooks) {
      int port = hook.getPort() > 0 ? hook.getPort() : hook.getScheme().equals("https") ? 443 : 80;
      if (!seen.add(hook.getHost() + ":" + port)) {
        continue;
      }
      try (Socket socket = new Socket()) {
        socket.connect(new InetSocketAddress(hook.getHost(), port), CONNECT_MILLIS);
      } catch (IOException e) {
        all.add(
            Finding.bad(
                "webhook " + hook.getHost() + ":" + port,
                "cannot be reached: " + e.getMessage(),
                "is its address right, and open from here? Alerts wait until it is"));
      }
    }
    if (all.isEmpty() && !seen.isEmpty()) {
      all.add(Finding.good("webhooks", "reached: " + String.join(", ", seen)));
    }
    return all;
  }
}
