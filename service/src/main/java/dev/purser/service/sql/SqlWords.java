package dev.purser.service.sql;

/** Why statements ended as they did, in words. */
final class SqlWords {
  private SqlWords() {}

  static String lost(String database) {
    return "Purser was cut off while its statements ran in "
        + database
        + ", and nobody knows whether they were committed: look there. With \"records-in\" it would"
        + " be known";
  }

  static String doneBefore(String table) {
    return "it had been committed before Purser was cut off, as "
        + table
        + " says; what its queries"
        + " gave is not known";
  }

  static String stoppedBefore() {
    return "stopped before it began";
  }
}
