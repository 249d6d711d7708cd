package dev.purser.core.sql;

import dev.purser.core.job.Work;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * Work in a database.
 *
 * @param text the statements, as their author wrote them
 * @param database the connection
 * @param together whether all of them are one transaction; else each is its own
 * @param recordsIn a table with a column {@code attempt} that is unique: the attempt is written
 *     there in the same transaction, by which it is known after a crash; empty for none
 * @param keepRows how many rows of each query are kept
 */
public record Sql(String text, String database, boolean together, String recordsIn, int keepRows)
    implements Work {
  /** The word for it. */
  public static final String KIND = "sql";

  /** Exit code of statements that failed. */
  public static final int FAILED = 1;

  /** How many rows are kept where nothing is said. */
  public static final int USUAL_ROWS = 100_000;

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String inWords() {
    return text;
  }

  @Override
  public Optional<String> connection(Function<String, Optional<String>> ofService) {
    return Optional.of(database);
  }

  /** Whether its statements only read, so that they may be done again at any time. */
  public static boolean onlyReads(List<Statement> statements) {
    return statements.stream().allMatch(Statement::isRead);
  }
}
