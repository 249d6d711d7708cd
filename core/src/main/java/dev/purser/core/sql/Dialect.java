package dev.purser.core.sql;

/** How a database reads text: what is quoted, and what is a comment. */
public enum Dialect {
  /** MariaDB and its kin: backslashes escape, backticks quote names, # begins a comment. */
  MARIADB,
  /** PostgreSQL: dollar quotes, comments within comments, E'...' with backslashes. */
  POSTGRESQL,
  /** Any other, by the standard. */
  STANDARD;

  /** By the address of a connection, such as {@code jdbc:mariadb://host/db}. */
  public static Dialect of(String address) {
    if (address.startsWith("jdbc:mariadb:") || address.startsWith("jdbc:mysql:")) {
      return MARIADB;
    }
    return address.startsWith("jdbc:postgresql:") ? POSTGRESQL : STANDARD;
  }
}
