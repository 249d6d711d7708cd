package dev.purser.service.care;

import dev.purser.service.board.Engine;
import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;

/** Looks at this service itself: whether it decides, and its memory. */
@Component
class ServiceLook implements Look {
  private static final int DEEP = 5_000;
  private static final double FULL_HEAP = 0.9;

  private final Engine engine;

  ServiceLook(Engine engine) {
    this.engine = engine;
  }

  @Override
  public String about() {
    return "service";
  }

  @Override
  public boolean isTold() {
    return true;
  }

  /** Memory fills until it is tidied: that is no news. */
  @Override
  public boolean isTold(Finding found) {
    return found.about().equals(about()) && found.level() != Finding.Level.GOOD;
  }

  @Override
  public List<Finding> find() {
    return List.of(service(), heap());
  }

  private Finding service() {
    if (engine.isDatabaseAway()) {
      return Finding.bad(
          "service",
          "the database is away: nothing new is decided; what runs goes on",
          "bring the database back; the service goes on by itself");
    }
    if (!engine.isWell()) {
      return Finding.bad(
          "service", "the engine has not taken a turn for a while", "see the service's own log");
    }
    if (engine.backlog() > DEEP) {
      return Finding.look(
          "service",
          engine.backlog() + " pieces of news wait to be taken in",
          "if it stays so, the database or this machine is too slow for the load");
    }
    return Finding.good(
        "service",
        "it decides, epoch "
            + engine.epoch()
            + ", "
            + engine.<Integer>look(board -> board.size())
            + " runs on the board");
  }

  private static Finding heap() {
    Runtime machine = Runtime.getRuntime();
    long used = machine.totalMemory() - machine.freeMemory();
    String text =
        String.format(
            Locale.ROOT, "%.0f of %.0f MB are in use", used / 1e6, machine.maxMemory() / 1e6);
    return used > FULL_HEAP * machine.maxMemory()
        ? Finding.look("service's memory", text, "give it more: -Xmx in PURSER_JAVA_OPTIONS")
        : Finding.good("service's memory", text);
  }
}
