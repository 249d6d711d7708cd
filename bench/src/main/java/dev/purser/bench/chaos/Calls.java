package dev.purser.bench.chaos;

import dev.purser.outside.RemoteDesk;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The remote services of the chaos test: they have mishaps of their own while services are killed,
 * and know in the end what was begun there for which run.
 */
final class Calls implements AutoCloseable {
  private static final Pattern RUN = Pattern.compile("chaos/day/(remote|model)@[0-9-]+#\\d+");
  private static final List<RemoteDesk.Mishap> AT_START =
      List.of(RemoteDesk.Mishap.TAKEN_BUT_CUT, RemoteDesk.Mishap.TAKEN_BUT_500);
  private static final List<RemoteDesk.Mishap> AT_LOOK =
      List.of(
          RemoteDesk.Mishap.CUT,
          RemoteDesk.Mishap.HTML,
          RemoteDesk.Mishap.TOO_MANY,
          RemoteDesk.Mishap.STRANGE_WORD);

  private final RemoteDesk desk = new RemoteDesk(0);
  private final Random dice;

  Calls(Random dice) throws IOException {
    this.dice = dice;
  }

  String address() {
    return "http://127.0.0.1:" + desk.port();
  }

  /** Now and then something goes wrong there as well. */
  void mishap() {
    if (dice.nextInt(3) == 0) {
      desk.atStart(AT_START.get(dice.nextInt(AT_START.size())));
    }
    if (dice.nextInt(3) == 0) {
      desk.atLook(AT_LOOK.get(dice.nextInt(AT_LOOK.size())));
    }
  }

  int count() {
    return desk.begun().size();
  }

  /** What was begun there beside the records: each run exactly once. */
  List<String> compare(Comparison.Records records) throws IOException, InterruptedException {
    Map<String, Integer> begun = new HashMap<>();
    for (RemoteDesk.Task task : desk.begun()) {
      Matcher run = RUN.matcher(task.what());
      begun.merge(run.find() ? run.group() : "nobody: " + task.what(), 1, Integer::sum);
    }
    return compare(begun, records);
  }

  static List<String> compare(Map<String, Integer> begun, Comparison.Records records)
      throws IOException, InterruptedException {
    List<String> wrong = new ArrayList<>();
    Map<String, Integer> left = new HashMap<>(begun);
    for (String run :
        records.query(
            "select concat(stream, '/', job, '@', business_date, '#', number) from run where job in"
                + " ('remote', 'model')")) {
      int times = left.getOrDefault(run, 0);
      left.remove(run);
      if (times != 1) {
        wrong.add(run + " was begun " + times + " times at the remote service");
      }
    }
    left.keySet().forEach(run -> wrong.add("begun at the remote service for " + run));
    return wrong;
  }

  @Override
  public void close() {
    desk.close();
  }
}
