package dev.purser.core.neighbour;

import java.time.Instant;

/**
 * A definition in force on one side.
 *
 * @param text its YAML, with the names that things have here
 * @param revision of the publication that made it, there
 * @param origin where it comes from, other than from a person's own hand; empty for that
 */
public record Side(String text, long revision, Instant at, String who, String origin) {}
