package dev.purser.core.definition;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What a connection leads to. */
public enum ConnectionKind {
  /** Anything that answers by HTTP. */
  HTTP("http"),
  /** A database, by JDBC. */
  DATABASE("database"),
  /** An sftp server. */
  SFTP("sftp"),
  /** An object store. */
  OBJECT_STORE("object-store");

  private final String word;

  ConnectionKind(String word) {
    this.word = word;
  }

  /** The word in files. */
  public String word() {
    return word;
  }

  /** The kind of a word. */
  public static Optional<ConnectionKind> of(String word) {
    return Arrays.stream(values()).filter(kind -> kind.word.equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(ConnectionKind::word).toList();
  }
}
