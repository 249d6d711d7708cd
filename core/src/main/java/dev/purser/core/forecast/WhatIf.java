package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * What an action would do, found by playing the present board to its end twice: as it stands, and
 * with the action. Every attempt goes as is typical for its job, and no question is answered, so
 * that nothing but the action makes a difference.
 */
public final class WhatIf {
  private static final long NOTICED_MILLIS = 30_000;
  private static final int MOST_NAMES = 4;
  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");

  private WhatIf() {}

  /** How a run that is not touched itself would go otherwise. */
  public enum Turn {
    /** It would have waited for a person, and goes on now. */
    FREED,
    /** It would have ended, and waits for a person now. */
    BLOCKED,
    /** It ends in another state. */
    OTHERWISE,
    /** It ends earlier. */
    EARLIER,
    /** It ends later. */
    LATER
  }

  /**
   * A run that the action changes at once.
   *
   * @param stops whether an attempt of it is stopped
   * @param starts whether an attempt of it starts at once
   */
  public record Touched(
      RunSpec run, RunState before, RunState after, boolean stops, boolean starts) {}

  /**
   * A run that goes otherwise in consequence.
   *
   * @param endBefore expected end without the action, epoch milliseconds; 0 for none
   * @param endAfter expected end with it; 0 for none
   */
  public record Moved(
      RunSpec run,
      Turn turn,
      RunState stateBefore,
      RunState stateAfter,
      long endBefore,
      long endAfter) {}

  /**
   * When a business date is expected to be done.
   *
   * @param before expected last end without the action, epoch milliseconds; 0 where nothing is left
   * @param after with it
   * @param openBefore runs that wait for a person then, without the action
   * @param openAfter with it
   */
  public record Finish(
      LocalDate date, long before, long after, int openBefore, int openAfter, ZoneId zone) {}

  /**
   * What the action would do.
   *
   * @param refusals why it, or a part of it, would not be taken
   * @param missed runs that miss their finish-by only with the action
   * @param saved runs that miss their finish-by only without it
   */
  public record Effect(
      List<String> refusals,
      List<Touched> touched,
      List<Moved> moved,
      List<Finish> finishes,
      List<RunSpec> missed,
      List<RunSpec> saved) {

    /** The same in sentences, the most important first. */
    public List<String> sentences() {
      return new Sentences(this).all();
    }
  }

  /**
   * Plays.
   *
   * @param board where it begins; it is not changed
   * @param outcomes how attempts go; answers to questions are left out of it
   * @param change the events that the action is
   * @param until epoch milliseconds at which both plays end
   */
  public static Effect of(Board board, Outcomes outcomes, List<BoardEvent> change, long until) {
    Rehearsal without = rehearsal(board, outcomes);
    without.play(until);
    Rehearsal with = rehearsal(board, outcomes);
    Map<Long, RunState> before = new LinkedHashMap<>();
    List<String> refusals = new ArrayList<>();
    List<Instruction> given = with.apply(change.toArray(BoardEvent[]::new));
    for (Instruction instruction : given) {
      if (instruction instanceof Instruction.RunChanged changed) {
        before.putIfAbsent(changed.run(), board.state(changed.run()).orElse(RunState.PLANNED));
      } else if (instruction instanceof Instruction.Refused refused) {
        String run = board.run(refused.run()).map(spec -> spec.run().reference() + ": ").orElse("");
        refusals.add(run + refused.reason());
      }
    }
    List<Touched> touched = new ArrayList<>();
    before.forEach((id, state) -> touched.add(touched(with.board(), id, state, given)));
    with.play(until);
    return effect(board, without.board(), with.board(), refusals, touched);
  }

  private static Rehearsal rehearsal(Board board, Outcomes outcomes) {
    Rehearsal rehearsal =
        new Rehearsal(new Board(board), new Unanswered(outcomes), new SplittableRandom(1));
    rehearsal.assumeActiveAttemptsGoOn();
    return rehearsal;
  }

  /** The same outcomes, but nobody answers a question. */
  record Unanswered(Outcomes outcomes) implements Outcomes {
    @Override
    public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
      return outcomes.attempt(run, attempt, random);
    }

    @Override
    public Outcome goingOn(RunSpec run, int attempt, long elapsed, SplittableRandom random) {
      return outcomes.goingOn(run, attempt, elapsed, random);
    }

    @Override
    public Outcomes inSample(SplittableRandom random) {
      return new Unanswered(outcomes.inSample(random));
    }

    @Override
    public List<BoardEvent> planned() {
      return outcomes.planned();
    }

    @Override
    public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
      return outcomes.file(watch, date, random);
    }

    @Override
    public Optional<Answer> approval(RunSpec run, long asked, SplittableRandom random) {
      return Optional.empty();
    }
  }

  private static Touched touched(
      Board board, long id, RunState before, List<Instruction> instructions) {
    boolean stops = false;
    boolean starts = false;
    for (Instruction instruction : instructions) {
      stops |= instruction instanceof Instruction.StopAttempt stop && stop.run() == id;
      starts |= instruction instanceof Instruction.StartAttempt start && start.run() == id;
    }
    return new Touched(
        board.run(id).orElseThrow(), before, board.state(id).orElseThrow(), stops, starts);
  }

  private static Effect effect(
      Board now, Board without, Board with, List<String> refusals, List<Touched> touched) {
    List<Long> own = touched.stream().map(one -> one.run().id()).toList();
    List<Moved> moved = new ArrayList<>();
    List<RunSpec> missed = new ArrayList<>();
    List<RunSpec> saved = new ArrayList<>();
    Map<LocalDate, long[]> finishes = new LinkedHashMap<>();
    Map<LocalDate, ZoneId> zones = new LinkedHashMap<>();
    touched.forEach(
        one -> {
          finishes.put(one.run().run().reference().date(), new long[4]);
          zones.put(one.run().run().reference().date(), one.run().run().zone());
        });
    for (RunSpec run : with.runs()) {
      RunStatus after = with.status(run.id()).orElseThrow();
      RunStatus before = without.status(run.id()).orElse(null);
      if (before != null && before.equals(after) && !finishes.containsKey(date(run))) {
        continue;
      }
      boolean lateBefore = before != null && isLate(run, before);
      boolean lateAfter = isLate(run, after);
      if (lateAfter && !lateBefore) {
        missed.add(run);
      } else if (lateBefore && !lateAfter) {
        saved.add(run);
      }
      if (before != null) {
        Moved one = moved(run, before, after);
        if (one != null) {
          if (!own.contains(run.id())) {
            moved.add(one);
          }
          finishes.computeIfAbsent(date(run), date -> new long[4]);
          zones.putIfAbsent(date(run), run.run().zone());
        }
      }
    }
    for (RunSpec run : with.runs()) {
      long[] finish = finishes.get(date(run));
      if (finish != null && !run.run().job().isStep()) {
        count(now, run, without.status(run.id()), finish, 0);
        count(now, run, with.status(run.id()), finish, 1);
      }
    }
    moved.sort(
        Comparator.comparing(Moved::turn)
            .thenComparing(one -> -Math.abs(one.endAfter() - one.endBefore())));
    List<Finish> all = new ArrayList<>();
    finishes.forEach(
        (date, f) ->
            all.add(new Finish(date, f[0], f[1], (int) f[2], (int) f[3], zones.get(date))));
    return new Effect(refusals, touched, moved, all, missed, saved);
  }

  private static LocalDate date(RunSpec run) {
    return run.run().reference().date();
  }

  private static void count(
      Board now, RunSpec run, Optional<RunStatus> status, long[] finish, int which) {
    if (status.isEmpty()) {
      return;
    }
    boolean wasOver = now.state(run.id()).map(RunState::isEnded).orElse(false);
    if (!status.get().state().isEnded()) {
      finish[2 + which]++;
    } else if (!wasOver || status.get().ended() > now.now()) {
      finish[which] = Math.max(finish[which], status.get().ended());
    }
  }

  private static boolean isLate(RunSpec run, RunStatus status) {
    boolean done = status.state().isEnded() && status.state() != RunState.FAILED;
    return run.run()
        .finishBy()
        .map(Instant::toEpochMilli)
        .filter(by -> !done || status.ended() > by)
        .isPresent();
  }

  /** How a run goes otherwise; null where it does not. */
  private static Moved moved(RunSpec run, RunStatus before, RunStatus after) {
    boolean endedBefore = before.state().isEnded();
    boolean endedAfter = after.state().isEnded();
    long shift = after.ended() - before.ended();
    Turn turn;
    if (!endedBefore && endedAfter) {
      turn = Turn.FREED;
    } else if (endedBefore && !endedAfter) {
      turn = Turn.BLOCKED;
    } else if (endedBefore && before.state() != after.state()) {
      turn = Turn.OTHERWISE;
    } else if (endedBefore && shift <= -NOTICED_MILLIS) {
      turn = Turn.EARLIER;
    } else if (endedBefore && shift >= NOTICED_MILLIS) {
      turn = Turn.LATER;
    } else {
      return null;
    }
    return new Moved(
        run, turn, before.state(), after.state(), before.ended(), endedAfter ? after.ended() : 0);
  }

  /** Puts an effect into words. */
  private record Sentences(Effect effect) {
    List<String> all() {
      List<String> all = new ArrayList<>();
      effect.refusals().forEach(refusal -> all.add("Not possible: " + refusal + "."));
      if (effect.touched().isEmpty() && effect.moved().isEmpty()) {
        if (all.isEmpty()) {
          all.add("It changes no run.");
        }
        return all;
      }
      all.add(effect.touched().isEmpty() ? "It changes no run at once." : touches());
      turned(Turn.FREED, "It frees ", " that would otherwise wait for a person")
          .ifPresent(all::add);
      turned(Turn.BLOCKED, "It blocks ", ": they will wait for a person").ifPresent(all::add);
      otherwise().ifPresent(all::add);
      shifted(Turn.EARLIER, " earlier").ifPresent(all::add);
      shifted(Turn.LATER, " later").ifPresent(all::add);
      if (!effect.missed().isEmpty()) {
        all.add("Expected to miss the finish-by with this: " + names(effect.missed()) + ".");
      }
      if (!effect.saved().isEmpty()) {
        all.add("Expected to keep the finish-by only with this: " + names(effect.saved()) + ".");
      }
      effect.finishes().forEach(finish -> all.add(finish(finish)));
      return all;
    }

    private String touches() {
      List<String> parts = new ArrayList<>();
      for (Touched one : effect.touched()) {
        String what =
            one.starts()
                ? " starts at once"
                : one.stops()
                    ? " is stopped while it is " + one.before().word()
                    : one.before() == one.after()
                        ? " stays " + one.after().word()
                        : " goes from " + one.before().word() + " to " + one.after().word();
        parts.add(one.run().run().reference() + what);
      }
      return "It touches " + count(effect.touched().size()) + ": " + Shorten.names(parts, 6) + ".";
    }

    private static String count(int runs) {
      return runs == 1 ? "1 run" : runs + " runs";
    }

    private List<Moved> of(Turn turn) {
      return effect.moved().stream().filter(one -> one.turn() == turn).toList();
    }

    private Optional<String> turned(Turn turn, String begin, String end) {
      List<Moved> some = of(turn);
      return some.isEmpty()
          ? Optional.empty()
          : Optional.of(
              begin
                  + count(some.size())
                  + end
                  + ": "
                  + names(some.stream().map(Moved::run).toList())
                  + ".");
    }

    private Optional<String> otherwise() {
      List<Moved> some = of(Turn.OTHERWISE);
      return some.isEmpty()
          ? Optional.empty()
          : Optional.of(
              Shorten.names(some.stream().map(Sentences::instead).toList(), MOST_NAMES) + ".");
    }

    private static String instead(Moved one) {
      return one.run().run().reference()
          + " will be "
          + one.stateAfter().word()
          + " instead of "
          + one.stateBefore().word();
    }

    private Optional<String> shifted(Turn turn, String word) {
      List<Moved> some = of(turn);
      if (some.isEmpty()) {
        return Optional.empty();
      }
      Moved most = some.get(0);
      return Optional.of(
          count(some.size())
              + (some.size() == 1 ? " ends" : " end")
              + word
              + ", the most "
              + most.run().run().reference()
              + " by "
              + span(most.endAfter() - most.endBefore())
              + ".");
    }

    private static String span(long millis) {
      return Durations.print(Duration.ofSeconds(Math.abs(Math.round(millis / 1000.0))));
    }

    private static String names(List<RunSpec> runs) {
      return Shorten.names(
          runs.stream().map(run -> run.run().reference().toString()).toList(), MOST_NAMES);
    }

    private static String finish(Finish finish) {
      String open =
          finish.openAfter() == 0
              ? ""
              : "; "
                  + count(finish.openAfter())
                  + (finish.openAfter() == 1 ? " of it waits" : " of it wait")
                  + " for a person then";
      if (finish.after() == 0) {
        return "Nothing more is expected to end on " + finish.date() + open + ".";
      }
      long shift = finish.before() == 0 ? 0 : finish.after() - finish.before();
      String instead =
          Math.abs(shift) < NOTICED_MILLIS
              ? ", as without this"
              : " instead of "
                  + clock(finish, finish.before())
                  + ": "
                  + span(shift)
                  + (shift > 0 ? " later" : " earlier");
      return "The last run of "
          + finish.date()
          + " is expected to end at "
          + clock(finish, finish.after())
          + (finish.before() == 0 ? "" : instead)
          + open
          + ".";
    }

    private static String clock(Finish finish, long at) {
      ZonedDateTime local = Instant.ofEpochMilli(at).atZone(finish.zone());
      boolean own = local.toLocalDate().equals(finish.date());
      return HH_MM.format(local) + (own ? "" : " on " + local.toLocalDate());
    }
  }
}
