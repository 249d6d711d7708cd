package dev.purser.core.reading;

/**
 * A definition file.
 *
 * @param name as its author knows it, for messages
 * @param text its YAML
 */
public record SourceFile(String name, String text) {}
