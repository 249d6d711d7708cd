package dev.purser.core.kind;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.ConnectionKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.OnlyIf;
import dev.purser.core.job.Work;
import dev.purser.core.reading.Fields;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import dev.purser.core.sql.Dialect;
import dev.purser.core.sql.Sql;
import dev.purser.core.sql.SqlText;
import dev.purser.core.sql.Statement;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/** {@code sql}: statements in a database. */
public final class SqlKind implements WorkKind {
  private static final int MOST_ROWS = 5_000_000;

  @Override
  public String key() {
    return "sql";
  }

  @Override
  public String inWords() {
    return "statements in a database";
  }

  @Override
  public Set<String> reads() {
    return Set.of(Sql.KIND);
  }

  @Override
  public Happens happens() {
    return Happens.IN_SERVICE;
  }

  @Override
  public Set<String> alsoTakes() {
    return Set.of("host");
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may(key(), Keys.Form.TEXT, "Statements, with semicolons between; ${NAME} is one value.")
        .may(
            "sql-file",
            Keys.Form.TEXT,
            "A file with them beside this one; the command line puts it in its place.")
        .may("database", Keys.Form.NAME, "The connection of the database.")
        .may("transaction", Keys.Form.TEXT, "one for all of them, or each its own; one.")
        .may(
            "records-in",
            Keys.Form.TEXT,
            "A table with a unique column attempt: how a commit is known after a crash.")
        .may("keep-rows", Keys.Form.NUMBER, "How many rows of each query are kept; 100000.");
  }

  @Override
  public Work read(JobFields job) {
    Fields fields = job.fields();
    String database = fields.has("database") ? fields.name("database") : "";
    if (database.isEmpty()) {
      job.error(key(), "statements need a \"database\": the name of a connection");
    } else {
      job.mention("database", Document.What.CONNECTION, database);
    }
    String transaction = fields.text("transaction", "one");
    if (!Set.of("one", "each").contains(transaction)) {
      job.error(
          "transaction",
          "cannot use \"" + transaction + "\" for \"transaction\"; expected one or each");
    }
    String table = fields.text("records-in", "");
    if (!table.isEmpty() && !table.matches("[A-Za-z_]\\w{0,62}(\\.[A-Za-z_]\\w{0,62})?")) {
      job.error("records-in", "\"" + table + "\" is not a valid name of a table");
    }
    if (!table.isEmpty() && transaction.equals("each")) {
      job.error(
          "records-in", "\"records-in\" belongs to one transaction; with each it says nothing");
    }
    return new Sql(
        job.template(key(), Statement::withoutOuts),
        database,
        transaction.equals("one"),
        table,
        fields.number("keep-rows", 0, MOST_ROWS).orElse(Sql.USUAL_ROWS));
  }

  @Override
  public Optional<OnlyIf> onlyIf(JobFields job) {
    return Optional.of(new OnlyIf.Query(job.template("only-if")));
  }

  /** Whether the connection leads to a database, and the statements can be read. */
  @Override
  public void check(Job job, Stream stream, Definitions all, Consumer<String> errors) {
    Sql sql = (Sql) job.work();
    String whose = "job \"" + job.name() + "\"";
    Optional<Connection> connection = all.connection(sql.database());
    if (connection.isEmpty()) {
      return;
    }
    if (connection.get().kind() != ConnectionKind.DATABASE) {
      errors.accept(
          whose
              + " has statements for "
              + sql.database()
              + ", which is not a connection of the kind database");
      return;
    }
    try {
      List<Statement> statements = SqlText.read(sql.text(), Dialect.of(connection.get().address()));
      if (statements.isEmpty()) {
        errors.accept(whose + " has no statement, only blanks and comments");
      }
    } catch (SqlText.Mistake e) {
      errors.accept(whose + ", line " + e.line() + " of its statements: " + e.getMessage());
    }
    job.onlyIf()
        .filter(OnlyIf.Query.class::isInstance)
        .ifPresent(
            check ->
                check(((OnlyIf.Query) check).text(), Dialect.of(connection.get().address()))
                    .ifPresent(text -> errors.accept(whose + ", \"only-if\": " + text)));
  }

  private static Optional<String> check(String query, Dialect dialect) {
    try {
      List<Statement> statements = SqlText.read(query, dialect);
      boolean sound = statements.size() == 1 && Sql.onlyReads(statements);
      return sound ? Optional.empty() : Optional.of("expected one query, which only reads");
    } catch (SqlText.Mistake e) {
      return Optional.of(e.getMessage());
    }
  }
}
