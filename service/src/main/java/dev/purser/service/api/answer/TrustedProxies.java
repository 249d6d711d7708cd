package dev.purser.service.api.answer;

import dev.purser.service.Settings;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.apache.catalina.valves.RemoteIpValve;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.stereotype.Component;

/**
 * Behind a proxy that the site names, the address of whoever asks is the one that the proxy tells
 * ({@code X-Forwarded-For}, {@code X-Forwarded-Proto}). From anybody else such headers mean
 * nothing.
 */
@Component
class TrustedProxies implements WebServerFactoryCustomizer<TomcatServletWebServerFactory> {
  private final List<String> addresses;

  TrustedProxies(Settings settings) {
    this.addresses =
        Arrays.stream(settings.trustedProxies().split(","))
            .map(String::strip)
            .filter(one -> !one.isEmpty())
            .toList();
  }

  @Override
  public void customize(TomcatServletWebServerFactory factory) {
    if (addresses.isEmpty()) {
      return;
    }
    String named = addresses.stream().map(Pattern::quote).collect(Collectors.joining("|"));
    RemoteIpValve valve = new RemoteIpValve();
    valve.setInternalProxies(named);
    valve.setRemoteIpHeader("X-Forwarded-For");
    valve.setProtocolHeader("X-Forwarded-Proto");
    factory.addEngineValves(valve);
  }
}
