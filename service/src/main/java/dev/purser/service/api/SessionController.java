package dev.purser.service.api;

import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.Settings;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.people.People;
import dev.purser.service.people.PersonRow;
import dev.purser.service.people.Role;
import dev.purser.service.people.Sessions;
import dev.purser.service.people.SignInGuard;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out, tokens, and people. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class SessionController {
  private static final String VERSION = "0.1.0";

  private final People people;
  private final Sessions sessions;
  private final SignInGuard guard;
  private final AuditTrail audit;
  private final PlanKeeper plan;
  private final Settings settings;
  private final Clock clock;

  SessionController(
      People people,
      Sessions sessions,
      SignInGuard guard,
      AuditTrail audit,
      PlanKeeper plan,
      Settings settings,
      Clock clock) {
    this.people = people;
    this.sessions = sessions;
    this.guard = guard;
    this.audit = audit;
    this.plan = plan;
    this.settings = settings;
    this.clock = clock;
  }

  /** A request to sign in, with a label where a token is wanted instead of a session. */
  record SignInRequest(
      @Size(max = Limits.NAME) String name,
      @Size(max = Limits.PASSWORD) String password,
      @Size(max = Limits.NAME) String tokenLabel,
      @Size(max = Limits.PASSWORD) String newPassword) {}

  /** Who is signed in; 401 for nobody. */
  @GetMapping("/session")
  ResponseEntity<Views.Me> me(Authentication who) {
    return who == null
        ? ResponseEntity.status(HttpStatus.UNAUTHORIZED).build()
        : people
            .byName(who.getName())
            .map(person -> ResponseEntity.ok(me(person)))
            .orElseGet(() -> ResponseEntity.status(HttpStatus.UNAUTHORIZED).build());
  }

  private Views.Me me(PersonRow person) {
    return new Views.Me(
        person.name,
        person.role,
        Role.of(person.role).map(Role::may).orElse(List.of()),
        plan.today(),
        clock.instant(),
        settings.zone().getId(),
        VERSION);
  }

  /**
   * Signs in. Whoever has a one-time password must give a new one with it. With a token's label a
   * token is made, and no session begins.
   */
  @PostMapping("/session")
  ResponseEntity<Object> signIn(
      @Valid @RequestBody SignInRequest request,
      HttpServletRequest http,
      HttpServletResponse response) {
    String name = request.name() == null ? "" : request.name();
    String from = name + " " + http.getRemoteAddr();
    Duration wait = guard.waitFor(from);
    if (!wait.isZero()) {
      return ResponseEntity.status(HttpStatus.TOO_MANY_REQUESTS)
          .header("Retry-After", String.valueOf(wait.toSeconds() + 1))
          .body(
              problem(
                  HttpStatus.TOO_MANY_REQUESTS,
                  "too many failed tries; wait " + (wait.toSeconds() + 1) + " s"));
    }
    String password = request.password() == null ? "" : request.password();
    Optional<PersonRow> person = people.signIn(name, password);
    if (person.isEmpty()) {
      guard.failed(from);
      return ResponseEntity.status(HttpStatus.UNAUTHORIZED)
          .body(problem(HttpStatus.UNAUTHORIZED, "name or password is wrong"));
    }
    guard.succeeded(from);
    AuditTrail.Actor actor = new AuditTrail.Actor(name, http.getRemoteAddr());
    if (request.newPassword() != null && !request.newPassword().isEmpty()) {
      people.save(name, Role.of(person.get().role).orElseThrow(), request.newPassword(), false);
      audit.write(actor, "change password", "person " + name, "");
    } else if (person.get().mustChange) {
      return ResponseEntity.status(HttpStatus.FORBIDDEN)
          .body(
              problem(
                  HttpStatus.FORBIDDEN,
                  "this is a one-time password: give a new one of at least 12 characters with it"));
    }
    PersonRow now = people.byName(name).orElseThrow();
    if (request.tokenLabel() != null && !request.tokenLabel().isEmpty()) {
      String token = people.newToken(name, request.tokenLabel());
      audit.write(actor, "new token", "person " + name, request.tokenLabel());
      return ResponseEntity.ok(new Views.TokenView(token, request.tokenLabel(), name, now.role));
    }
    sessions.begin(now, http, response);
    audit.write(actor, "sign in", "person " + name, "");
    return ResponseEntity.ok(me(now));
  }

  private static ProblemDetail problem(HttpStatus status, String detail) {
    ProblemDetail problem = ProblemDetail.forStatusAndDetail(status, detail);
    problem.setTitle("Cannot sign in");
    return problem;
  }

  /** Signs out. */
  @DeleteMapping("/session")
  ResponseEntity<Void> signOut(HttpServletRequest http) {
    sessions.end(http);
    return ResponseEntity.noContent().build();
  }

  /** Everybody who may sign in. */
  @GetMapping("/people")
  @Paged(by = "name")
  List<Views.PersonView> list() {
    return people.all().stream()
        .map(person -> new Views.PersonView(person.name, person.role))
        .toList();
  }

  /** Adds a person, or gives one another role and password. */
  @PutMapping("/people/{name}")
  Views.PersonView save(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody Views.PersonRequest request,
      Authentication who,
      HttpServletRequest http) {
    String word = request.role() == null ? "" : request.role();
    Role role =
        Role.of(word)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "unknown role \"" + word + "\"" + Nearest.hint(word, Role.words())));
    people.save(name, role, request.password() == null ? "" : request.password(), false);
    audit.write(Asking.actor(who, http), "save person", "person " + name, role.word());
    return new Views.PersonView(name, role.word());
  }

  /** Removes a person. */
  @DeleteMapping("/people/{name}")
  ResponseEntity<Void> remove(
      @PathVariable @Size(max = Limits.NAME) String name,
      Authentication who,
      HttpServletRequest http) {
    if (name.equals(who.getName())) {
      throw new Problems.Conflict("nobody can remove themselves");
    }
    if (!people.remove(name)) {
      throw new Problems.NotFound("there is nobody named \"" + name + "\"");
    }
    audit.write(Asking.actor(who, http), "remove person", "person " + name, "");
    return ResponseEntity.noContent().build();
  }
}
