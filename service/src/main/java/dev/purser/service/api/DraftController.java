package dev.purser.service.api;

import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.trial.Others;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.ProblemViews;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.draft.DraftPublishing;
import dev.purser.service.draft.DraftRow;
import dev.purser.service.draft.Drafts;
import dev.purser.service.draft.DraftsToCome;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Agreement;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.api.DraftViews;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Drafts: kept, shared, tried, agreed to, published. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class DraftController {
  private static final List<String> ACTIONS =
      List.of("take over", "copy", "share", "ask", "agree", "stay");

  private final Drafts drafts;
  private final DraftPublishing publishing;
  private final DraftsToCome live;
  private final PlanKeeper plan;
  private final Agreement agreement;
  private final AuditTrail audit;

  DraftController(
      Drafts drafts,
      DraftPublishing publishing,
      DraftsToCome live,
      PlanKeeper plan,
      Agreement agreement,
      AuditTrail audit) {
    this.drafts = drafts;
    this.publishing = publishing;
    this.live = live;
    this.plan = plan;
    this.agreement = agreement;
    this.audit = audit;
  }

  /** Those that whoever asks may see, without their files. */
  @GetMapping("/drafts")
  @Paged(by = "id")
  List<DraftViews.DraftView> list(Authentication who) {
    return drafts.of(who.getName()).stream().map(draft -> view(draft, List.of())).toList();
  }

  /** One, with its files. */
  @GetMapping("/drafts/{id}")
  DraftViews.DraftView one(@PathVariable long id, Authentication who) {
    return whole(found(id, who));
  }

  private DraftRow found(long id, Authentication who) {
    return drafts
        .one(id, who.getName())
        .orElseThrow(
            () ->
                new Problems.NotFound(
                    "there is no draft " + id + "; purser drafts lists those you may see"));
  }

  /** Begins one. */
  @PostMapping("/drafts")
  @ResponseStatus(HttpStatus.CREATED)
  DraftViews.DraftView begin(
      @Valid @RequestBody DraftViews.DraftRequest request,
      Authentication who,
      HttpServletRequest http) {
    DraftRow draft = drafts.begin(request.title(), files(request), who.getName());
    note(who, http, "begin draft", draft.id, draft.title);
    return whole(draft);
  }

  /** Saves one; only whoever holds it may. */
  @PutMapping("/drafts/{id}")
  DraftViews.DraftView save(
      @PathVariable long id,
      @Valid @RequestBody DraftViews.DraftRequest request,
      Authentication who) {
    return whole(
        drafts.save(
            id,
            request.version(),
            request.title(),
            files(request),
            request.looked(),
            who.getName()));
  }

  /** Throws one away, with what was made for its tries. */
  @DeleteMapping("/drafts/{id}")
  ResponseEntity<Void> drop(@PathVariable long id, Authentication who, HttpServletRequest http) {
    DraftRow draft = drafts.drop(id, who.getName());
    publishing.clear(id, Asking.actor(who, http));
    note(who, http, "drop draft", id, draft.title);
    return ResponseEntity.noContent().build();
  }

  /**
   * Takes it over, copies or shares it, asks others to agree, agrees, or keeps it from going live.
   */
  @PostMapping("/drafts/{id}/actions")
  DraftViews.DraftView act(
      @PathVariable long id,
      @Valid @RequestBody DraftViews.DraftAction request,
      Authentication who,
      HttpServletRequest http) {
    String me = who.getName();
    String reason = Asking.reason(request.reason());
    DraftRow draft =
        switch (request.action()) {
          case "take over" -> drafts.takeOver(id, me);
          case "copy" -> drafts.copy(id, me);
          case "share" -> drafts.share(id, request.with() == null ? List.of() : request.with(), me);
          case "ask" -> drafts.ask(id, reason, me);
          case "agree" -> drafts.agree(id, request.version(), me);
          case "stay" -> drafts.stay(id, me);
          default ->
              throw new NotUnderstood(
                  "a draft has no action \""
                      + request.action()
                      + "\""
                      + Nearest.hint(request.action(), ACTIONS));
        };
    note(who, http, request.action() + " draft", id, reason);
    return whole(draft);
  }

  /** Tries a stream of it once. */
  @PostMapping("/drafts/{id}/trial")
  ResponseEntity<DraftViews.DraftTrialView> tryOnce(
      @PathVariable long id,
      @Valid @RequestBody DraftViews.TrialRequest request,
      Authentication who,
      HttpServletRequest http) {
    String host = request.host() == null ? "" : request.host().strip();
    DraftPublishing.Tried tried =
        publishing.tryOnce(
            found(id, who),
            new DraftPublishing.How(
                request.stream() == null ? "" : request.stream().strip(),
                host.isEmpty() ? Optional.empty() : Optional.of(host),
                others(request),
                Asking.reason(request.reason())),
            Asking.actor(who, http));
    return ResponseEntity.status(tried.stream().isEmpty() ? 422 : 200)
        .body(
            new DraftViews.DraftTrialView(
                tried.stream(),
                tried.runs(),
                tried.problems().stream().map(ProblemViews::view).toList()));
  }

  private static Others others(DraftViews.TrialRequest request) {
    boolean playing = Boolean.TRUE.equals(request.playing());
    if (request.ignoring() && playing) {
      throw new NotUnderstood("what a try asks of others is either ignored or played, not both");
    }
    return playing ? Others.PLAYED : request.ignoring() ? Others.IGNORED : Others.WAITED_FOR;
  }

  /** Publishes it, then it is gone; or has it go live from a business date to come. */
  @PostMapping("/drafts/{id}/publication")
  ResponseEntity<Views.PublishResult> publish(
      @PathVariable long id,
      @Valid @RequestBody DraftViews.PublicationRequest request,
      Authentication who,
      HttpServletRequest http) {
    DraftRow draft = found(id, who);
    Holds holds = DefinitionController.holds(request.holds(), plan.today());
    Optional<LocalDate> toCome = holds.toCome(plan.today());
    AuditTrail.Actor actor = Asking.actor(who, http);
    String reason = Asking.reason(request.reason());
    Publisher.Outcome outcome =
        toCome.isPresent()
            ? live.goLive(draft, toCome.get(), actor, reason)
            : publishing.publish(draft, holds, actor, reason);
    return ResponseEntity.status(outcome.sound() ? 200 : 422)
        .body(DefinitionController.view(outcome, id, toCome));
  }

  /** Whose streams can only be changed once somebody else has agreed. */
  @GetMapping("/agreement")
  DraftViews.AgreementView agreement() {
    return new DraftViews.AgreementView(agreement.departments());
  }

  /** Says so anew. */
  @PutMapping("/agreement")
  DraftViews.AgreementView agreement(
      @Valid @RequestBody DraftViews.AgreementView request,
      Authentication who,
      HttpServletRequest http) {
    List<String> departments =
        request.departments().stream().map(String::strip).filter(one -> !one.isEmpty()).toList();
    agreement.set(departments, who.getName());
    audit.write(Asking.actor(who, http), "set agreement", "site", String.join(", ", departments));
    return new DraftViews.AgreementView(departments);
  }

  private void note(
      Authentication who, HttpServletRequest http, String what, long id, String more) {
    audit.write(Asking.actor(who, http), what, "draft " + id, more);
  }

  private static List<SourceFile> files(DraftViews.DraftRequest request) {
    return request.files().stream().map(file -> new SourceFile(file.name(), file.text())).toList();
  }

  private DraftViews.DraftView whole(DraftRow draft) {
    return view(
        draft,
        drafts.files(draft.id).stream()
            .map(file -> new Views.FileText(file.name(), file.text()))
            .toList());
  }

  private static DraftViews.DraftView view(DraftRow draft, List<Views.FileText> files) {
    return new DraftViews.DraftView(
        draft.id,
        draft.title,
        draft.owner,
        draft.holder,
        draft.created,
        draft.changed,
        draft.changedBy,
        draft.version,
        draft.seen,
        draft.asked,
        draft.askedBy,
        draft.askReason,
        draft.isAgreed() ? draft.agreed : null,
        draft.isAgreed() ? draft.agreedBy : "",
        draft.sharedWith(),
        draft.trials,
        draft.liveFrom,
        draft.liveFrom == null ? "" : draft.liveBy,
        draft.liveTrouble,
        files);
  }
}
