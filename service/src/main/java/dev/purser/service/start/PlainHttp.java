package dev.purser.service.start;

import dev.purser.service.Settings;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.core.env.Environment;
import org.springframework.stereotype.Component;

/** Warns where what people type can be read by others on the way. */
@Component
class PlainHttp {
  private static final Logger LOG = LoggerFactory.getLogger(PlainHttp.class);

  private final Environment environment;
  private final Settings settings;

  PlainHttp(Environment environment, Settings settings) {
    this.environment = environment;
    this.settings = settings;
  }

  @EventListener(ApplicationReadyEvent.class)
  void begin() {
    if (settings.tls().isBlank()) {
      warning(environment.getProperty("server.address", ""), settings.trustedProxies())
          .ifPresent(LOG::warn);
    }
  }

  /**
   * What is to be said of where a service listens; empty where nothing is.
   *
   * @param address its own; empty for all that the machine has
   * @param proxies those before it; empty for none
   */
  static Optional<String> warning(String address, String proxies) {
    if (!proxies.isBlank() || isLoopback(address)) {
      return Optional.empty();
    }
    return Optional.of(
        "this service listens on "
            + (address.isBlank() ? "every address" : address)
            + " by plain http: passwords, tokens and output can be read on the way. Give it"
            + " PURSER_TLS, or put a TLS proxy before it, name that in PURSER_TRUSTED_PROXIES and let"
            + " this listen on 127.0.0.1");
  }

  private static boolean isLoopback(String address) {
    try {
      return !address.isBlank() && InetAddress.getByName(address).isLoopbackAddress();
    } catch (UnknownHostException e) {
      return false;
    }
  }
}
