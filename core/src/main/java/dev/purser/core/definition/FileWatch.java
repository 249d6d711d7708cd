package dev.purser.core.definition;

import java.time.Duration;

/**
 * A pattern looked for on a host.
 *
 * @param path an absolute path whose last part may hold {@code *} and {@code ?}, with placeholders
 * @param stillFor how long size and time must not have changed before the file counts as whole
 * @param minimumSize in bytes, at least 1: an empty file is never taken for data
 */
public record FileWatch(
    String name, String title, String host, String path, Duration stillFor, long minimumSize) {}
