package dev.purser.client;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.ConnectException;
import java.net.HttpRetryException;
import java.net.HttpURLConnection;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.Optional;

/**
 * One request and its answer. By the older of Java's two clients: a command asks once or twice and
 * ends, and the newer one takes ten times as long until it has sent its first request.
 */
final class Http {
  private static final int CONNECT_MILLIS = 5_000;
  private static final String SIGN_IN = "/session";
  private static final int ANSWER_MILLIS = 60_000;

  static {
    // what may have been done must not be asked for again behind anybody's back
    System.setProperty("sun.net.http.retryPost", "false");
  }

  private Http() {}

  /**
   * An answer.
   *
   * @param headers by name, as they came
   * @param body as UTF-8
   */
  record Answer(int status, Map<String, String> headers, String body) {
    /** A header by its name in any letters; empty where it was not sent. */
    Optional<String> header(String name) {
      return headers.entrySet().stream()
          .filter(one -> one.getKey().equalsIgnoreCase(name))
          .map(Map.Entry::getValue)
          .findFirst();
    }
  }

  /** The other side was not reached: nothing was asked. */
  static final class NotConnected extends IOException {
    private static final long serialVersionUID = 1L;

    NotConnected(IOException cause) {
      super(cause.getMessage(), cause);
    }
  }

  /**
   * Asks. What has a body reaches the other side once at the most, but for a sign-in: Java sends
   * what it keeps a copy of again by itself where the connection breaks, and without a copy it
   * drops the text of a 401, which says why a sign-in was refused.
   *
   * @param body null for none
   * @throws NotConnected where the other side was never reached
   * @throws IOException where no answer came
   */
  static Answer send(String method, URI address, Map<String, String> headers, byte[] body)
      throws IOException {
    return send(method, address, headers, body, null);
  }

  /**
   * Asks, and puts a good answer where it is wanted, as it comes.
   *
   * @return without a body where the answer was good
   */
  static Answer save(URI address, Map<String, String> headers, OutputStream to) throws IOException {
    return send("GET", address, headers, null, to);
  }

  private static Answer send(
      String method, URI address, Map<String, String> headers, byte[] body, OutputStream to)
      throws IOException {
    HttpURLConnection connection = (HttpURLConnection) address.toURL().openConnection();
    connection.setRequestMethod(method);
    connection.setInstanceFollowRedirects(false);
    connection.setConnectTimeout(CONNECT_MILLIS);
    connection.setReadTimeout(ANSWER_MILLIS);
    headers.forEach(connection::setRequestProperty);
    if (body != null) {
      connection.setDoOutput(true);
      if (!address.getPath().endsWith(SIGN_IN)) {
        connection.setFixedLengthStreamingMode(body.length);
      }
    }
    connect(connection);
    if (body != null) {
      try (OutputStream out = connection.getOutputStream()) {
        out.write(body);
      }
    }
    int status = status(connection);
    Map<String, String> found = new java.util.LinkedHashMap<>();
    connection
        .getHeaderFields()
        .forEach(
            (name, values) -> {
              if (name != null) {
                found.put(name, values.get(0));
              }
            });
    try (InputStream in =
        status >= 400 ? connection.getErrorStream() : connection.getInputStream()) {
      if (to != null && status == 200 && in != null) {
        in.transferTo(to);
        return new Answer(status, found, "");
      }
      byte[] text = in == null ? new byte[0] : in.readAllBytes();
      return new Answer(status, found, new String(text, StandardCharsets.UTF_8));
    }
  }

  private static int status(HttpURLConnection connection) throws IOException {
    try {
      return connection.getResponseCode();
    } catch (HttpRetryException e) {
      return e.responseCode(); // a 401, whose text is lost
    }
  }

  private static void connect(HttpURLConnection connection) throws IOException {
    try {
      connection.connect();
    } catch (ConnectException
        | NoRouteToHostException
        | UnknownHostException
        | SocketTimeoutException e) {
      throw new NotConnected(e);
    }
  }
}
