package dev.purser.bench;

/** A program that does nothing: what starting Java takes. */
final class Empty {
  private Empty() {}

  /** Ends. */
  public static void main(String[] args) {}
}
