package dev.purser.remote.http;

import java.io.IOException;
import java.net.InetSocketAddress;

/** The way to a connection's address, where it is not the direct one. */
public interface Road {
  /** The direct way. */
  Road DIRECT =
      new Road() {
        @Override
        public boolean isDirect() {
          return true;
        }

        @Override
        public InetSocketAddress to(String host, int port) {
          return InetSocketAddress.createUnresolved(host, port);
        }

        @Override
        public InetSocketAddress proxyTo(String host, int port) {
          throw new IllegalStateException("the direct way has no proxy");
        }
      };

  /** Whether it is the direct way. */
  boolean isDirect();

  /**
   * Where to connect instead, to speak with a host as if it were there.
   *
   * @throws BlockedException where nobody can be reached that way now
   */
  InetSocketAddress to(String host, int port) throws IOException;

  /**
   * An HTTP proxy that leads to a host, and to no other.
   *
   * @throws BlockedException where nobody can be reached that way now
   */
  InetSocketAddress proxyTo(String host, int port) throws IOException;

  /** It leads nowhere now: later it may. The text is for people. */
  final class BlockedException extends IOException {
    private static final long serialVersionUID = 1;

    /** Saying why. */
    public BlockedException(String why) {
      super(why);
    }
  }
}
