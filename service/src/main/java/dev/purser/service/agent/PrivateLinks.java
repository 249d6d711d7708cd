package dev.purser.service.agent;

import java.net.InetSocketAddress;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;
import org.springframework.web.socket.WebSocketSession;
import org.springframework.web.socket.adapter.NativeWebSocketSession;

/** Which hosts are connected in such a way that nobody on the way can read what is said. */
@Component
class PrivateLinks {
  private final Set<String> hosts = ConcurrentHashMap.newKeySet();

  /** Takes in how a host has just connected. */
  void take(String host, WebSocketSession session) {
    if (isEncrypted(session) || isOfThisMachine(session.getRemoteAddress())) {
      hosts.add(host);
    } else {
      forget(host);
    }
  }

  /** It is not known any more to be so. */
  void forget(String host) {
    hosts.remove(host);
  }

  private static boolean isEncrypted(WebSocketSession session) {
    return session instanceof NativeWebSocketSession wrapped
        && wrapped.getNativeSession() instanceof jakarta.websocket.Session inner
        && inner.isSecure();
  }

  private static boolean isOfThisMachine(InetSocketAddress from) {
    return from != null && from.getAddress() != null && from.getAddress().isLoopbackAddress();
  }

  /** Whether a secret may be sent to a host as it is connected now. */
  boolean has(String host) {
    return hosts.contains(host);
  }
}
