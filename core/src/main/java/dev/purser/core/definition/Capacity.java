package dev.purser.core.definition;

/** A named number of units that runs take while they run. */
public record Capacity(String name, String title, int units) {}
