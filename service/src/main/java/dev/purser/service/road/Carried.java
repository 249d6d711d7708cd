package dev.purser.service.road;

import java.io.InputStream;
import java.net.Socket;

/**
 * A connection of this machine that goes over a road.
 *
 * @param in what is read from it: some of it may have been looked at before
 */
record Carried(Socket socket, InputStream in) {}
