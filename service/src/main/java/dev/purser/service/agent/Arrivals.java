package dev.purser.service.agent;

import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.FileSight;
import dev.purser.core.board.RunStatus;
import dev.purser.service.board.Turn;
import dev.purser.service.people.Secrets;
import dev.purser.service.run.ArrivalRow;
import dev.purser.service.run.RunRecords;
import dev.purser.wire.agent.FromAgent;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** Gives every file to one run only, in the engine's own turn. */
@Component
class Arrivals {
  private final RunRecords runs;

  /** Files taken since the records were last taken up; older ones are in the records. */
  private final Map<String, Long> taken = new ConcurrentHashMap<>();

  Arrivals(RunRecords runs) {
    this.runs = runs;
  }

  void forget() {
    taken.clear();
  }

  /** Gives a ready file to the run that looks for it; false where another run has used it. */
  boolean take(Turn turn, String host, FromAgent.Sight sight) {
    String identity =
        Secrets.hash(host + "\n" + sight.path() + "\n" + sight.size() + "\n" + sight.modified());
    Optional<RunStatus> before = turn.board().status(sight.run());
    if (before.isEmpty()) {
      return true;
    }
    Long user = taken.get(identity);
    if (user == null) {
      user = runs.arrival(identity).map(row -> row.run).orElse(null);
    }
    if (user != null && user != sight.run()) {
      see(turn, sight, FileSight.USED);
      return false;
    }
    turn.apply(new BoardEvent.FileArrived(turn.now(), sight.run(), sight.watch(), sight.path()));
    boolean isNews =
        !turn.board().status(sight.run()).orElseThrow().files().equals(before.get().files());
    if (isNews && user == null) {
      taken.put(identity, sight.run());
      ArrivalRow row = row(identity, host, sight, before.get().since(), turn.now());
      turn.also(session -> session.insert(row));
    }
    return true;
  }

  private static ArrivalRow row(
      String identity, String host, FromAgent.Sight sight, long looked, long now) {
    ArrivalRow row = new ArrivalRow();
    row.identity = identity;
    row.watch = sight.watch();
    row.host = host;
    row.path = sight.path();
    row.size = sight.size();
    row.modified = Instant.ofEpochMilli(sight.modified());
    row.run = sight.run();
    row.looked = Instant.ofEpochMilli(looked);
    row.at = Instant.ofEpochMilli(now);
    return row;
  }

  /** Tells the board what is seen short of an arrival. */
  boolean see(Turn turn, FromAgent.Sight sight, FileSight seen) {
    turn.apply(new BoardEvent.FileSeen(turn.now(), sight.run(), sight.watch(), seen, sight.path()));
    return true;
  }
}
