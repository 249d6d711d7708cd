package dev.purser.service.api;

import dev.purser.core.commitment.PromiseReference;
import dev.purser.core.definition.Commitment;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.learning.UsualEnds;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.schedule.Durations;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.CommitmentViewMaker;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.commitment.Commitments;
import dev.purser.service.commitment.Foretold;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.wire.api.CommitmentViews;
import dev.purser.wire.api.Limits;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What is promised to the business, and how it stands. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class CommitmentController {
  private final Engine engine;
  private final Commitments commitments;
  private final CommitmentViewMaker views;
  private final Foretold foretold;
  private final PlanKeeper plan;
  private final AuditTrail audit;

  CommitmentController(
      Engine engine,
      Commitments commitments,
      CommitmentViewMaker views,
      Foretold foretold,
      PlanKeeper plan,
      AuditTrail audit) {
    this.engine = engine;
    this.commitments = commitments;
    this.views = views;
    this.foretold = foretold;
    this.plan = plan;
    this.audit = audit;
  }

  /** What is promised of a business date, today's where none is said, and how it stands. */
  @GetMapping("/commitments")
  @Paged(by = "reference")
  List<CommitmentViews.CommitmentView> list(@RequestParam(required = false) LocalDate date) {
    return commitments.of(date == null ? plan.today() : date).stream().map(views::view).toList();
  }

  /**
   * The promises of a business date that are not kept yet, today's where none is said, each with
   * the chain of runs that decides when it is.
   */
  @GetMapping("/deciding")
  @Paged(by = "reference")
  List<CommitmentViews.DecidingView> deciding(@RequestParam(required = false) LocalDate date) {
    return commitments.deciding(date == null ? plan.today() : date).stream()
        .map(views::view)
        .toList();
  }

  /**
   * A commitment on a date: its lineage, the chain that decides, why it differs from the usual,
   * what would help, and its record.
   *
   * @param name of the commitment, or a reference with the date: {@code night-manifest@2027-03-04},
   *     with {@code #2} for the second start of a date
   * @param date today's where none is said
   * @param number which of the date's starts; the first where none is said
   * @param helps whether it is worked out what would help, which takes a while
   */
  @GetMapping("/commitments/{name}")
  CommitmentViews.CommitmentDetail one(
      @PathVariable @Size(max = Limits.NAME) String name,
      @RequestParam(required = false) LocalDate date,
      @RequestParam(required = false) @Min(1) @Max(999_999) Integer number,
      @RequestParam(defaultValue = "true") boolean helps) {
    PromiseReference reference = PromiseReference.of(name);
    Commitment commitment = find(reference.name());
    LocalDate wanted = reference.date(date, plan.today());
    int start = reference.number(number);
    PromiseOutlook outlook =
        commitments.of(wanted).stream()
            .filter(one -> one.promised().commitment().name().equals(commitment.name()))
            .filter(one -> one.promised().number() == start)
            .findFirst()
            .orElseThrow(
                () ->
                    new Problems.NotFound(
                        commitment.name()
                            + " promises nothing for "
                            + (start == 1 ? "" : "start " + start + " of ")
                            + wanted
                            + ", or it is not planned yet"));
    return views.detail(helps ? commitments.renewed(outlook) : outlook, helps);
  }

  private Commitment find(String name) {
    return engine
        .definitions()
        .commitment(name)
        .orElseThrow(
            () ->
                new Problems.NotFound(
                    "there is no commitment "
                        + name
                        + Nearest.hint(
                            name,
                            engine.definitions().commitments().stream()
                                .map(Commitment::name)
                                .toList())));
  }

  /** Works out anew what is usual of a commitment that promises that. */
  @PostMapping("/commitments/{name}/renewal")
  CommitmentViews.UsualView renew(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody CommitmentViews.RenewalRequest request,
      Authentication who,
      HttpServletRequest http) {
    Commitment commitment = find(name);
    if (!(commitment.promise() instanceof Commitment.AsUsual)) {
      throw new NotUnderstood(
          name
              + " promises \"done "
              + commitment.promise().inWords()
              + "\"; only as-usual is renewed");
    }
    String reason = Asking.reason(request.reason());
    Duration found =
        commitments
            .renew(commitment)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "what is usual of "
                            + name
                            + " cannot be said before it has ended "
                            + UsualEnds.ENOUGH
                            + " times; it has "
                            + commitments.earlier(commitment).stream()
                                .filter(kept -> kept.done() > 0)
                                .count()));
    audit.write(
        Asking.actor(who, http), "renew commitment", name, reason + ": " + Durations.print(found));
    return new CommitmentViews.UsualView(name, found.toSeconds() / 60.0);
  }

  /** How well was foretold over the last days: what was kept against what came. */
  @GetMapping("/foretold")
  @Paged(by = "horizon")
  List<CommitmentViews.ForetoldView> foretold(
      @RequestParam(defaultValue = "30") @Min(1) @Max(400) int days) {
    return foretold.measures(plan.today().minusDays(days)).stream()
        .map(
            one ->
                new CommitmentViews.ForetoldView(
                    one.horizon(),
                    one.count(),
                    number(one.within90()),
                    number(one.within50()),
                    number(one.minutesOff()),
                    one.late(),
                    one.warned(),
                    one.cameToNothing(),
                    number(one.minutesBefore())))
        .toList();
  }

  private static Double number(double value) {
    return Double.isNaN(value) ? null : value;
  }
}
