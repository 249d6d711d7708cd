package dev.purser.core.definition;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What a connection leads to. */
public enum ConnectionKind {
  /** Anything that answers by HTTP. */
  HTTP("http"),
  /** The same where no kind is said: where it is a place of files, an object store. */
  HTTP_UNSAID("http"),
  /** A database, by JDBC. */
  DATABASE("database"),
  /** An sftp server. */
  SFTP("sftp"),
  /** An object store. */
  OBJECT_STORE("object-store"),
  /** A container cluster, by its open HTTP interface. */
  CLUSTER("cluster"),
  /** A mail server. */
  MAIL("mail");

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

  /** Whether it signs in by HTTP in one of all ways. */
  public boolean isHttp() {
    return this == HTTP || this == HTTP_UNSAID;
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(ConnectionKind::word).distinct().toList();
  }
}
