package dev.purser.service.connection;

import dev.purser.core.definition.ConnectionKind;
import dev.purser.remote.http.Site;
import dev.purser.remote.sql.Database;
import dev.purser.service.call.Sites;
import java.io.IOException;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Tries a database: signs in, and asks what it is. */
@Component
class DatabaseTrial implements ConnectionTrial {
  private static final int SECONDS = 10;

  private final Database database;

  DatabaseTrial(Sites sites) {
    this.database = new Database(sites.gate(), sites.drivers());
  }

  @Override
  public Set<ConnectionKind> tries() {
    return Set.of(ConnectionKind.DATABASE);
  }

  @Override
  public Outcome of(Site site, String path) {
    List<String> steps = new ArrayList<>();
    String who = site.connection().user();
    try (Connection connection = database.open(site)) {
      steps.add(who.isEmpty() ? "nobody signs in" : "signed in as " + who);
      DatabaseMetaData what = connection.getMetaData();
      steps.add(what.getDatabaseProductName() + " " + what.getDatabaseProductVersion());
      boolean answers = connection.isValid(SECONDS);
      steps.add(answers ? "it answers" : "it does not answer within " + SECONDS + " s");
      return new Outcome(answers, steps);
    } catch (SQLException e) {
      steps.add(site.without(String.valueOf(e.getMessage()).replaceAll("\\s+", " ")));
      return new Outcome(false, steps);
    } catch (IOException e) {
      steps.add(e.getMessage());
      return new Outcome(false, steps);
    }
  }
}
