package dev.purser.remote.http;

import java.util.Map;

/**
 * A request, with everything in it filled in and escaped.
 *
 * @param method such as GET
 * @param path with its query, added to the address of the site
 * @param headers by name
 * @param type of what is sent; empty where nothing is
 * @param body what is sent; empty for nothing
 */
public record Outgoing(
    String method, String path, Map<String, String> headers, String type, String body) {
  /** A request that asks for something and sends nothing. */
  public static Outgoing get(String path) {
    return new Outgoing("GET", path, Map.of(), "", "");
  }
}
