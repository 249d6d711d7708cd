package dev.purser.service.draft;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.HoldsFrom;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Problem;
import dev.purser.core.problem.Shorten;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Agreement;
import dev.purser.service.publish.Publisher;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletionException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Has drafts go live for a business date to come: as soon as that date is planned. Whatever is in
 * the way of one is looked for all the time before, and told while there is time to mend it.
 */
@Component
public class DraftsToCome implements SiteWatch {
  private static final Logger LOG = LoggerFactory.getLogger(DraftsToCome.class);
  private static final int LONGEST = 1_900;
  private static final int MOST_NAMED = 3;

  /** What is in the way is looked for again after so long, where nothing else asks for it. */
  private static final Duration AGAIN = Duration.ofMinutes(5);

  private final Drafts drafts;
  private final DraftPublishing publishing;
  private final People people;
  private final PlanKeeper plan;
  private final Engine engine;
  private final AuditTrail audit;
  private final Clock clock;
  private final Map<Long, Looked> looked = new HashMap<>();

  DraftsToCome(
      Drafts drafts,
      DraftPublishing publishing,
      People people,
      PlanKeeper plan,
      Engine engine,
      AuditTrail audit,
      Clock clock) {
    this.drafts = drafts;
    this.publishing = publishing;
    this.people = people;
    this.plan = plan;
    this.engine = engine;
    this.audit = audit;
    this.clock = clock;
  }

  /** As it was when a draft was looked at last. */
  private record Looked(long revision, long version, LocalDate from, Instant at) {}

  /**
   * Has a draft go live from a business date on that is not planned yet.
   *
   * @return as of a publication, without a revision: what would be in its way is refused now
   */
  public Publisher.Outcome goLive(
      DraftRow draft, LocalDate from, AuditTrail.Actor actor, String reason) {
    Publisher.Outcome outcome = publishing.check(draft);
    if (outcome.sound()) {
      drafts.toCome(draft.id, from, actor.name(), reason);
      audit.write(actor, "go live", "draft " + draft.id, "from " + from + ": " + reason);
    }
    return outcome;
  }

  /** Publishes those whose date is planned by now, and looks what is in the way of the others. */
  @Scheduled(fixedDelayString = "PT5S", initialDelayString = "PT7S")
  void keep() {
    if (!engine.isActive()) {
      return;
    }
    List<DraftRow> all;
    try {
      all = drafts.toCome();
    } catch (RuntimeException e) {
      LOG.warn("cannot look for drafts that go live, trying again: {}", e.getMessage());
      return;
    }
    looked.keySet().retainAll(all.stream().map(one -> one.id).toList());
    for (DraftRow draft : all) {
      try {
        keep(draft);
      } catch (RuntimeException e) { // the others go live all the same
        LOG.warn("cannot look after draft {}, trying again: {}", draft.id, e.getMessage());
      }
    }
  }

  private void keep(DraftRow draft) {
    LocalDate tomorrow = plan.today().plusDays(1);
    boolean isDue = !draft.liveFrom.isAfter(tomorrow) && plan.isPlanned(tomorrow);
    if (!isWorthALook(draft, isDue)) {
      return;
    }
    if (isDue) {
      publish(draft);
    } else {
      note(draft, inTheWay(draft));
    }
    looked.put(draft.id, now(draft, looked.get(draft.id)));
  }

  /** What was in the way is in the way as long as nothing has changed. */
  private boolean isWorthALook(DraftRow draft, boolean isDue) {
    Looked last = looked.get(draft.id);
    return last == null || !last.equals(now(draft, last)) || (isDue && draft.liveTrouble.isEmpty());
  }

  private Looked now(DraftRow draft, Looked last) {
    boolean isOld = last == null || last.at().plus(AGAIN).isBefore(clock.instant());
    return new Looked(
        engine.revision(), draft.version, draft.liveFrom, isOld ? clock.instant() : last.at());
  }

  private void publish(DraftRow draft) {
    String trouble = inTheWay(draft);
    if (trouble.isEmpty()) {
      AuditTrail.Actor actor = new AuditTrail.Actor(draft.liveBy, "");
      HoldsFrom from = new HoldsFrom(HoldsFrom.What.PLANNED, Optional.of(draft.liveFrom));
      try {
        Publisher.Outcome done =
            publishing.publish(draft, new Holds(from, Map.of()), actor, draft.liveReason);
        trouble = done.sound() ? "" : inWords(done.problems());
        if (done.sound()) {
          LOG.info("draft {} went live as revision {}", draft.id, done.revision());
        }
      } catch (Drafts.Refused | Agreement.Missing | NotUnderstood e) {
        trouble = e.getMessage();
      } catch (CompletionException e) { // refused by the engine
        boolean isRefused =
            e.getCause() instanceof NotUnderstood || e.getCause() instanceof Agreement.Missing;
        if (!isRefused) {
          throw e;
        }
        trouble = e.getCause().getMessage();
      }
    }
    note(draft, trouble);
  }

  private String inTheWay(DraftRow draft) {
    boolean may =
        people
            .byName(draft.liveBy)
            .filter(one -> !one.locked)
            .flatMap(one -> Role.of(one.role))
            .filter(one -> one.isAtLeast(Role.AUTHOR))
            .isPresent();
    if (!may) {
      return draft.liveBy + ", who had it go live, may not publish any more";
    }
    try {
      return inWords(publishing.check(draft).problems());
    } catch (Drafts.Refused | Agreement.Missing | NotUnderstood e) {
      return e.getMessage();
    }
  }

  private static String inWords(List<Problem> problems) {
    List<String> errors =
        problems.stream().filter(Problem::isError).map(Problem::message).distinct().toList();
    return Shorten.names(errors, MOST_NAMED);
  }

  private void note(DraftRow draft, String trouble) {
    String text = Shorten.text(trouble, LONGEST);
    if (!text.equals(draft.liveTrouble)) {
      drafts.trouble(draft.id, text);
    }
  }

  // ---- it is told

  @Override
  public Set<AlertKind> kinds() {
    return Set.of(AlertKind.CHANGE);
  }

  @Override
  public String because(String reference) {
    return "nothing is in its way any more, or it does not go live by itself";
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    List<SiteTrouble> wrong = new ArrayList<>();
    for (DraftRow draft : drafts.toCome()) {
      if (!draft.liveTrouble.isEmpty()) {
        wrong.add(
            new SiteTrouble(
                AlertKind.CHANGE,
                "draft " + draft.id,
                AlertSubject.CHANGE,
                draft.title,
                "it is to go live for "
                    + draft.liveFrom
                    + " and cannot: "
                    + draft.liveTrouble
                    + "; mend it and have it go live again, or keep it from that",
                streams(draft)));
      }
    }
    return Optional.of(wrong);
  }

  private List<Stream> streams(DraftRow draft) {
    return publishing.streamsOf(draft).stream()
        .flatMap(path -> engine.definitions().stream(path).stream())
        .toList();
  }
}
