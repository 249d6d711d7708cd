package dev.purser.core.definition;

/**
 * The address of an outside system.
 *
 * @param name within its kind
 * @param title for people
 * @param address http or https, to which paths are added
 */
public record Connection(String name, String title, String address) {}
