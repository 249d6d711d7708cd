package dev.purser.service.commitment;

import dev.purser.core.advice.Course;
import dev.purser.core.board.AlertCause;
import dev.purser.core.board.BoardView;
import dev.purser.core.commitment.Lineage;
import dev.purser.core.commitment.Promised;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.why.Why;
import dev.purser.service.board.Engine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/** How promises stand, in words for people who know no job names. */
@Component
public class Standings {
  private static final double CERTAIN = 0.9;
  private static final int MOST_NAMED = 3;
  private static final List<RunSpec> NONE = List.of();
  private static final Set<Why.What> ITS_OWN = Set.of(Why.What.FILE, Why.What.HOST);
  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");
  private static final DateTimeFormatter HH_MM_SS = DateTimeFormatter.ofPattern("HH:mm:ss");
  private static final Duration SHORT = Duration.ofMinutes(15);

  private final Engine engine;
  private final Clock now;

  Standings(Engine engine, Clock now) {
    this.engine = engine;
    this.now = now;
  }

  /** A word or two: kept, missed, late, stalled, will be kept, in danger, will be late, open. */
  public static String word(PromiseOutlook outlook) {
    return switch (outlook.standing()) {
      case KEPT -> "kept";
      case MISSED -> "missed";
      case LATE -> "late";
      case STALLED -> "stalled";
      case OPEN -> openWord(outlook);
    };
  }

  private static String openWord(PromiseOutlook outlook) {
    if (outlook.promised().by().isEmpty() || !outlook.canSayLate()) {
      return "open";
    }
    if (outlook.chanceLate() >= CERTAIN) {
      return "will be late";
    }
    return outlook.chanceLate() >= outlook.promised().commitment().warnAt()
        ? "in danger"
        : "will be kept";
  }

  private static List<RunSpec> ends(BoardView board, Promised promised) {
    List<RunSpec> ends = new ArrayList<>();
    for (RunSpec run : board.runs()) {
      if (promised.ends().contains(run.run().reference())) {
        ends.add(run);
      }
    }
    return ends;
  }

  /** How it stands, in a sentence. */
  public String sentence(PromiseOutlook outlook) {
    Promised promised = outlook.promised();
    ZoneId zone = promised.zone();
    String promise =
        promised.by().map(by -> clock(by, promised, zone) + " was promised").orElse("");
    String likely =
        outlook.end() == 0
            ? ""
            : "probably at " + clock(Instant.ofEpochMilli(outlook.end()), promised, zone);
    String done = clock(Instant.ofEpochMilli(Math.max(1, outlook.end())), promised, zone);
    String usual = outlook.ifAnswered() ? ", if people do as they usually do" : "";
    return switch (word(outlook)) {
      case "kept" -> "kept at " + done + and(promise);
      case "missed" -> "done at " + done + and(promise);
      case "late" ->
          "not done, although " + promise + (likely.isEmpty() ? "" : "; " + likely + usual);
      case "stalled" -> "nothing can move: " + stalledBy(outlook) + and(promise);
      case "will be kept" -> "will be kept, " + likely + usual + and(promise);
      case "in danger", "will be late" ->
          "a chance of "
              + Math.round(outlook.chanceLate() * 100)
              + " % of being late"
              + (likely.isEmpty() ? "" : ": " + likely + usual)
              + and(promise);
      default ->
          promised.by().isEmpty()
              ? "too little is known to say what is usual"
                  + (likely.isEmpty() ? "" : "; " + likely + usual)
              : "nobody can say yet" + and(promise);
    };
  }

  private static String and(String promise) {
    return promise.isEmpty() ? "" : "; " + promise;
  }

  /**
   * A time of day, with its date where that is not today's; with seconds for what takes minutes.
   */
  private String clock(Instant at, Promised promised, ZoneId zone) {
    ZonedDateTime local = at.atZone(zone);
    Instant by = promised.by().orElse(Instant.MAX);
    boolean minutes = promised.begin().plus(SHORT).isBefore(by);
    String time = (minutes ? HH_MM : HH_MM_SS).format(local);
    boolean today = local.toLocalDate().equals(now.instant().atZone(zone).toLocalDate());
    return today ? time : time + " on " + local.toLocalDate();
  }

  /**
   * What must be done before anything moves: the first things in the lineage that hang on somebody.
   */
  private String stalledBy(PromiseOutlook outlook) {
    Lineage lineage = Lineage.of(engine.definitions(), outlook.promised().commitment());
    List<String> causes =
        engine.look(
            board -> {
              List<String> found = new ArrayList<>();
              List<Long> upstream =
                  new ArrayList<>(Course.upstream(board, outlook.promised(), lineage));
              Collections.reverse(upstream); // it begins with the end
              for (long id : upstream) {
                cause(board, board.run(id).orElseThrow()).ifPresent(found::add);
              }
              if (found.isEmpty()) {
                found.addAll(noHost(board, upstream));
              }
              for (RunSpec end : found.isEmpty() ? ends(board, outlook.promised()) : NONE) {
                found.add("\"" + end.run().job().title() + "\": " + board.why(end.id()).sentence());
              }
              return found;
            });
    return causes.isEmpty()
        ? "somebody must act"
        : String.join("; ", causes.subList(0, Math.min(MOST_NAMED, causes.size())));
  }

  /**
   * The key of what keeps a promise from being kept: a run that has failed, or else a host that is
   * away; empty for none.
   */
  public String causeKey(PromiseOutlook outlook) {
    Lineage lineage = Lineage.of(engine.definitions(), outlook.promised().commitment());
    return engine.look(
        board -> {
          Set<Long> upstream = Course.upstream(board, outlook.promised(), lineage);
          return upstream.stream()
              .filter(id -> board.state(id).filter(RunState.FAILED::equals).isPresent())
              .findFirst()
              .map(id -> AlertCause.RUN + id)
              .or(() -> hostAway(board, outlook, upstream))
              .orElse("");
        });
  }

  private static Optional<String> hostAway(
      BoardView board, PromiseOutlook outlook, Set<Long> upstream) {
    boolean stalled = outlook.standing() == PromiseOutlook.Standing.STALLED;
    return upstream.stream()
        .filter(id -> stalled && board.noHost(id).isPresent())
        .map(id -> AlertCause.ofHosts(id, board))
        .filter(key -> !key.isEmpty())
        .findFirst();
  }

  /**
   * Which hosts those need that are still to come, and why they have none: once for each reason.
   */
  private static List<String> noHost(BoardView board, List<Long> upstream) {
    Map<String, List<String>> titles = new LinkedHashMap<>();
    for (long id : upstream) {
      String title = board.run(id).orElseThrow().run().job().title();
      board
          .noHost(id)
          .ifPresent(
              reason -> titles.computeIfAbsent(reason.text(), any -> new ArrayList<>()).add(title));
    }
    List<String> found = new ArrayList<>();
    titles.forEach(
        (text, runs) ->
            found.add(
                "\""
                    + runs.get(0)
                    + "\""
                    + (runs.size() == 1 ? "" : " and " + (runs.size() - 1) + " more")
                    + " will wait: "
                    + text));
    return found;
  }

  private static Optional<String> cause(BoardView board, RunSpec run) {
    RunStatus status = board.status(run.id()).orElseThrow();
    String title = run.run().job().title();
    if (status.state() == RunState.FAILED) {
      return Optional.of("\"" + title + "\" failed at " + run.clock(status.ended()));
    }
    if (!board.heldBy(run.id()).isEmpty() && !status.state().isEnded()) {
      return Optional.of("\"" + title + "\" is " + board.heldBy(run.id()));
    }
    if (status.asked() > 0 && !status.state().isEnded()) {
      return Optional.of("\"" + title + "\" waits for an answer");
    }
    return board.why(run.id()).reasons().stream()
        .filter(reason -> ITS_OWN.contains(reason.what()) && !reason.who().isEmpty())
        .findFirst()
        .map(reason -> "\"" + title + "\" waits: " + reason.text());
  }
}
