package dev.purser.service.channel;

import dev.purser.service.Settings;
import dev.purser.service.alert.Channel;
import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;

/**
 * Which addresses the service may call on behalf of a definition: all of the public net, and what
 * an administrator names. So no definition makes the service knock at doors within the house.
 */
@Component
public class Reachable {
  private final List<String> named;

  Reachable(Settings settings) {
    this.named =
        Arrays.stream(settings.mayCall().split(","))
            .map(one -> one.strip().toLowerCase(Locale.ROOT))
            .filter(one -> !one.isEmpty())
            .toList();
  }

  /**
   * Refuses an address that may not be called.
   *
   * @throws Channel.DeliveryFailed where it is of a private net, this machine or a link, and not
   *     named
   */
  public void check(URI address) throws Channel.DeliveryFailed {
    if (address.getHost() == null) {
      throw new Channel.Refused("the address has no host");
    }
    String host = address.getHost().toLowerCase(Locale.ROOT);
    check(host, address.getPort() > 0 ? address.getPort() : usualPort(address.getScheme()));
  }

  private static int usualPort(String scheme) {
    return switch (scheme == null ? "" : scheme) {
      case "https" -> 443;
      case "mariadb", "mysql" -> 3_306;
      case "postgresql" -> 5_432;
      default -> 80;
    };
  }

  /** The same for a host by name or number, and a port. */
  public void check(String host, int port) throws Channel.DeliveryFailed {
    if (named.contains(host) || named.contains(host + ":" + port)) {
      return;
    }
    try {
      for (InetAddress one : InetAddress.getAllByName(host.replaceAll("^\\[|\\]$", ""))) {
        if (isWithin(one)) {
          throw new Channel.DeliveryFailed(
              host
                  + " is "
                  + one.getHostAddress()
                  + ", which is not of the public net; PURSER_MAY_CALL must name "
                  + host
                  + ":"
                  + port,
              null);
        }
      }
    } catch (UnknownHostException e) {
      throw new Channel.DeliveryFailed("there is no host " + host, e);
    }
  }

  static boolean isWithin(InetAddress one) {
    byte[] bytes = one.getAddress();
    boolean shared = bytes.length == 4 && (bytes[0] & 0xff) == 100 && (bytes[1] & 0xc0) == 64;
    boolean zero = bytes.length == 4 && bytes[0] == 0;
    boolean reserved = bytes.length == 4 && (bytes[0] & 0xff) >= 240;
    boolean unique = bytes.length == 16 && (bytes[0] & 0xfe) == 0xfc;
    boolean mapped = bytes.length == 16 && isTranslated(bytes);
    return one.isAnyLocalAddress()
        || one.isLoopbackAddress()
        || one.isLinkLocalAddress()
        || one.isSiteLocalAddress()
        || one.isMulticastAddress()
        || shared
        || zero
        || reserved
        || unique
        || mapped;
  }

  /** IPv4 within IPv6, by whichever prefix: 64:ff9b::/96, 2002::/16. */
  private static boolean isTranslated(byte[] bytes) {
    boolean nat = bytes[0] == 0 && bytes[1] == 0x64 && (bytes[2] & 0xff) == 0xff;
    return nat || (bytes[0] == 0x20 && bytes[1] == 0x02);
  }
}
