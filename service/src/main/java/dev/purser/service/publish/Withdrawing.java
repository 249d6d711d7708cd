package dev.purser.service.publish;

import dev.purser.core.check.Uses;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Made;
import dev.purser.core.definition.Named;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.RunState;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import dev.purser.service.live.Live;
import dev.purser.service.plan.Concerned;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** Withdraws definitions that nothing uses; they can be brought back. */
@Component
public class Withdrawing {
  private static final int MOST_NAMED = 6;

  private final Engine engine;
  private final PlanKeeper plan;
  private final Pauses pauses;
  private final Agreement agreement;
  private final OnRecord onRecord;
  private final Live live;

  Withdrawing(
      Engine engine,
      PlanKeeper plan,
      Pauses pauses,
      Agreement agreement,
      OnRecord onRecord,
      Live live) {
    this.engine = engine;
    this.plan = plan;
    this.pauses = pauses;
    this.agreement = agreement;
    this.onRecord = onRecord;
    this.live = live;
  }

  /**
   * Withdraws a definition.
   *
   * @return who still uses it; empty where it has been withdrawn
   * @throws NotUnderstood where there is none
   */
  public Collection<String> withdraw(
      Kind kind, String name, AuditTrail.Actor actor, String reason) {
    return withdraw(kind, name, true, actor, reason);
  }

  /**
   * The same, unless runs of it are open.
   *
   * @param anyway whether it is withdrawn though they are; they go on as they were planned
   * @throws StillOpen where it is not, and nothing was done
   */
  public Collection<String> withdraw(
      Kind kind, String name, boolean anyway, AuditTrail.Actor actor, String reason) {
    List<String> needAgreement = agreement.departments();
    Collection<String> users =
        engine
            .ask(
                turn -> {
                  if (kind == Kind.STREAM && !anyway) {
                    refuseOpen(turn, name);
                  }
                  return withdraw(turn, kind, name, needAgreement, actor, reason);
                })
            .join();
    live.definitionsChanged();
    return users;
  }

  /** Runs of what is to be withdrawn are open. */
  public static final class StillOpen extends RuntimeException {
    private static final long serialVersionUID = 1L;

    StillOpen(String message) {
      super(message);
    }
  }

  private static void refuseOpen(Turn turn, String stream) {
    List<String> open =
        turn.board().runs().stream()
            .filter(run -> run.run().reference().stream().equals(stream))
            .filter(
                run ->
                    turn.board()
                        .state(run.id())
                        .filter(state -> !state.isEnded() && state != RunState.PLANNED)
                        .isPresent())
            .map(run -> run.run().reference().toString())
            .toList();
    if (!open.isEmpty()) {
      throw new StillOpen(
          Shorten.names(open, MOST_NAMED)
              + (open.size() == 1 ? " is" : " are")
              + " open and would go on as planned, without a definition; cancel "
              + (open.size() == 1 ? "it" : "them")
              + " first, or withdraw it anyway");
    }
  }

  private Collection<String> withdraw(
      Turn turn,
      Kind kind,
      String name,
      List<String> needAgreement,
      AuditTrail.Actor actor,
      String reason) {
    Document document =
        turn.definitions()
            .document(kind, name)
            .orElseThrow(() -> new NotUnderstood("there is no " + kind.title() + " " + name));
    if (document.made().filter(Made::isRow).isPresent()) {
      throw new NotUnderstood(
          name + " is " + document.made().get().inWords() + "; take that row out of its table");
    }
    List<Document> all = new ArrayList<>(List.of(document));
    turn.definitions().documents().stream()
        .filter(one -> kind == Kind.FOR_EACH && one.isMadeBy(name))
        .forEach(all::add);
    Collection<String> users = usersOf(turn.definitions(), all);
    if (users.isEmpty()) {
      Agreement.refuse(needAgreement, all, turn.definitions(), turn.definitions(), "");
      long revision = turn.revision() + 1;
      Definitions before = turn.definitions();
      turn.define(before.with(List.of(), all), revision);
      for (Document gone : all) {
        onRecord.write(turn, revision, gone, true, actor);
        pauses.withdrawn(turn, gone.name());
      }
      onRecord.publication(turn, revision, "", actor, reason);
      plan.replan(turn, before, Concerned.by(all, turn.definitions()), Holds.PLANNED, "");
    }
    return users;
  }

  /** Who uses any of some definitions that is not one of them itself. */
  private static Collection<String> usersOf(Definitions definitions, List<Document> all) {
    Uses uses = Uses.in(definitions);
    Set<Named> named = all.stream().map(Named::of).collect(Collectors.toSet());
    return named.stream()
        .flatMap(one -> uses.of(one).stream())
        .filter(use -> !named.contains(use.by()))
        .map(Uses.Use::where)
        .sorted()
        .distinct()
        .toList();
  }
}
