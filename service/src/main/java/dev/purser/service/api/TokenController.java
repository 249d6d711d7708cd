package dev.purser.service.api;

import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.people.People;
import dev.purser.service.people.PersonRow;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenRow;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.PeopleViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Tokens, by which programs act for people: one's own, and everybody's for administrators. */
@RestController
@RequestMapping(path = "/api/v1/tokens", produces = MediaType.APPLICATION_JSON_VALUE)
class TokenController {
  private final Tokens tokens;
  private final People people;
  private final AuditTrail audit;
  private final Clock clock;

  TokenController(Tokens tokens, People people, AuditTrail audit, Clock clock) {
    this.tokens = tokens;
    this.people = people;
    this.audit = audit;
    this.clock = clock;
  }

  /** One's own tokens, newest first; an administrator may ask for all of them. */
  @GetMapping
  @Paged(by = "id")
  List<PeopleViews.TokenLine> list(
      @RequestParam(defaultValue = "false") boolean all, Authentication who) {
    if (all && !isAdministrator(who)) {
      throw new NotUnderstood("only an administrator may list everybody's tokens");
    }
    Instant now = clock.instant();
    return tokens.list(all ? "" : who.getName()).stream().map(row -> line(row, now)).toList();
  }

  private boolean isAdministrator(Authentication who) {
    return people
        .byName(who.getName())
        .filter(one -> one.role.equals(Role.ADMINISTRATOR.word()))
        .isPresent();
  }

  private static PeopleViews.TokenLine line(TokenRow row, Instant now) {
    boolean open = row.expires == null || now.isBefore(row.expires);
    return new PeopleViews.TokenLine(
        row.id, row.person, row.label, row.scope, row.created, row.expires, row.used, open);
  }

  static PeopleViews.TokenView view(Tokens.Made made, PersonRow person) {
    return new PeopleViews.TokenView(
        made.secret(),
        made.row().label,
        person.name,
        person.role,
        made.row().id,
        made.row().expires);
  }

  /** Makes a token that acts for whoever asks; its secret is in this answer and nowhere else. */
  @PostMapping
  PeopleViews.TokenView make(
      @Valid @RequestBody PeopleViews.TokenRequest request,
      Authentication who,
      HttpServletRequest http) {
    String label = request.label() == null ? "" : request.label().strip();
    if (label.isEmpty()) {
      throw new NotUnderstood("a token needs a label that says what it is for");
    }
    String word = request.scope() == null ? TokenScope.API.word() : request.scope();
    TokenScope scope =
        TokenScope.of(word)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "unknown scope \"" + word + "\"" + Nearest.hint(word, TokenScope.words())));
    Duration holds = request.days() == null ? Tokens.USUAL : Duration.ofDays(request.days());
    Tokens.Made made = tokens.make(who.getName(), label, scope, holds);
    audit.write(Asking.actor(who, http), "new token", "token " + made.row().id, label);
    return view(made, people.byName(who.getName()).orElseThrow());
  }

  /** Ends a token at once: one's own, or anybody's for an administrator. */
  @DeleteMapping("/{id}")
  ResponseEntity<Void> end(
      @PathVariable long id,
      @RequestParam(defaultValue = "") @Size(max = Limits.REASON) String reason,
      Authentication who,
      HttpServletRequest http) {
    TokenRow row =
        tokens
            .byId(id)
            .filter(one -> one.person.equals(who.getName()) || isAdministrator(who))
            .orElseThrow(() -> new Problems.NotFound("you have no token " + id));
    tokens.end(id);
    audit.write(
        Asking.actor(who, http),
        "end token",
        "token " + id + " of " + row.person,
        Asking.reason(reason));
    return ResponseEntity.noContent().build();
  }
}
