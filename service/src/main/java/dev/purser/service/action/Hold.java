package dev.purser.service.action;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.run.HoldScope;
import dev.purser.service.board.StandingHoldRow;
import dev.purser.service.board.Turn;
import java.util.List;

/** To hold a job, stream or department, runs to come among it. */
public record Hold(HoldScope scope) implements Wish {
  @Override
  public String action() {
    return "hold";
  }

  @Override
  public String about() {
    return scope.toString();
  }

  @Override
  public void check(Asked asked) {
    known(asked.definitions(), scope);
    String held = asked.board().holds().get(scope);
    if (held != null) {
      throw new Refused("the " + scope + " is already " + held);
    }
  }

  private static void known(Definitions definitions, HoldScope scope) {
    List<String> names =
        switch (scope.kind()) {
          case STREAM ->
              definitions.streamAt(scope.name()).isPresent()
                  ? List.of(scope.name())
                  : definitions.streams().stream().map(Stream::path).toList();
          case JOB ->
              definitions.job(scope.name()).isPresent()
                  ? List.of(scope.name())
                  : definitions.streams().stream()
                      .flatMap(stream -> stream.jobs().stream().map(stream::pathOf))
                      .toList();
          case DEPARTMENT ->
              definitions.streams().stream().map(Stream::department).distinct().toList();
        };
    if (!names.contains(scope.name()) || scope.name().isEmpty()) {
      throw new NotUnderstood(
          "there is no "
              + scope.kind().word()
              + " \""
              + scope.name()
              + "\""
              + Nearest.hint(scope.name(), names));
    }
  }

  @Override
  public List<BoardEvent> events(Asked asked) {
    return List.of(new BoardEvent.HoldPlaced(asked.now(), scope, asked.note("held")));
  }

  @Override
  public List<Instruction> carryOut(Asked asked, Turn turn) {
    StandingHoldRow row = new StandingHoldRow();
    row.kind = scope.kind().word();
    row.name = scope.name();
    row.note = asked.note("held");
    row.who = asked.actor().name();
    row.since = asked.at();
    turn.also(session -> session.insert(row));
    return Wish.super.carryOut(asked, turn);
  }
}
