package dev.purser.service.api;

import dev.purser.core.problem.Shorten;
import dev.purser.service.Settings;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.people.KnownAddresses;
import dev.purser.service.people.Pass;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.PersonRow;
import dev.purser.service.people.Role;
import dev.purser.service.people.Sessions;
import dev.purser.service.people.SignInGuard;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
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
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class SessionController {
  private static final String VERSION = "0.1.0";
  private static final Logger LOG = LoggerFactory.getLogger(SessionController.class);

  private final People people;
  private final Passwords passwords;
  private final Tokens tokens;
  private final KnownAddresses addresses;
  private final Sessions sessions;
  private final SignInGuard guard;
  private final AuditTrail audit;
  private final PlanKeeper plan;
  private final Settings settings;
  private final Clock clock;

  SessionController(
      People people,
      Passwords passwords,
      Tokens tokens,
      KnownAddresses addresses,
      Sessions sessions,
      SignInGuard guard,
      AuditTrail audit,
      PlanKeeper plan,
      Settings settings,
      Clock clock) {
    this.people = people;
    this.passwords = passwords;
    this.tokens = tokens;
    this.addresses = addresses;
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
        VERSION,
        settings.environment());
  }

  /**
   * Signs in. Whoever has a one-time password must give a new one with it. With a token's label a
   * token is made, and no session begins. Nothing of the database is held while the password is
   * looked at.
   */
  @PostMapping("/session")
  ResponseEntity<Object> signIn(
      @Valid @RequestBody SignInRequest request,
      HttpServletRequest http,
      HttpServletResponse response) {
    String name = request.name() == null ? "" : request.name();
    String address = http.getRemoteAddr();
    SignInGuard.Comer comer = new SignInGuard.Comer(name, address, addresses.knows(name, address));
    Duration wait = guard.waitFor(comer);
    if (!wait.isZero()) {
      return tooMany(wait);
    }
    String password = request.password() == null ? "" : request.password();
    Optional<PersonRow> person = people.byName(name);
    if (!passwords.matches(password, person.map(found -> found.passwordHash))) {
      guard.failed(comer);
      LOG.warn("a sign-in as {} from {} has failed", Shorten.printable(name, 64), address);
      audit.write(
          new AuditTrail.Actor(Shorten.printable(name, 64), address),
          "failed sign-in",
          "person " + Shorten.printable(name, 64),
          "");
      return refused(HttpStatus.UNAUTHORIZED, "name or password is wrong");
    }
    guard.succeeded(comer);
    PersonRow found = person.orElseThrow();
    if (found.locked) {
      return refused(
          HttpStatus.UNAUTHORIZED, name + " is locked out; an administrator can unlock them");
    }
    String fresh = request.newPassword() == null ? "" : request.newPassword();
    if (fresh.isEmpty() && found.mustChange) {
      return refused(
          HttpStatus.FORBIDDEN,
          "this is a one-time password: give a new one of at least 12 characters with it");
    }
    if (!fresh.isEmpty()) {
      if (fresh.equals(password)) {
        return refused(HttpStatus.BAD_REQUEST, "the new password is the old one; choose another");
      }
      people.save(name, Role.of(found.role).orElseThrow(), passwords.hash(fresh), false);
      audit.write(new AuditTrail.Actor(name, address), "change password", "person " + name, "");
    }
    addresses.seen(name, address);
    return letIn(people.byName(name).orElseThrow(), request.tokenLabel(), http, response);
  }

  private ResponseEntity<Object> letIn(
      PersonRow person, String label, HttpServletRequest http, HttpServletResponse response) {
    AuditTrail.Actor actor = new AuditTrail.Actor(person.name, http.getRemoteAddr());
    if (label != null && !label.isEmpty()) {
      Tokens.Made made = tokens.make(person.name, label, TokenScope.API, Tokens.USUAL);
      audit.write(actor, "new token", "token " + made.row().id, label);
      return ResponseEntity.ok(TokenController.view(made, person));
    }
    sessions.begin(person, http, response);
    audit.write(actor, "sign in", "person " + person.name, "");
    return ResponseEntity.ok(me(person));
  }

  private static ResponseEntity<Object> tooMany(Duration wait) {
    String seconds = String.valueOf(wait.toSeconds() + 1);
    return ResponseEntity.status(HttpStatus.TOO_MANY_REQUESTS)
        .header("Retry-After", seconds)
        .body(
            problem(HttpStatus.TOO_MANY_REQUESTS, "too many failed tries; wait " + seconds + " s"));
  }

  private static ResponseEntity<Object> refused(HttpStatus status, String detail) {
    return ResponseEntity.status(status).body(problem(status, detail));
  }

  private static ProblemDetail problem(HttpStatus status, String detail) {
    ProblemDetail problem = ProblemDetail.forStatusAndDetail(status, detail);
    problem.setTitle("Cannot sign in");
    return problem;
  }

  /** Signs out: ends the session, or the token that the request was made with. */
  @DeleteMapping("/session")
  ResponseEntity<Void> signOut(Authentication who, HttpServletRequest http) {
    Pass.secret(http)
        .flatMap(tokens::bySecret)
        .ifPresent(
            token -> {
              tokens.end(token.id);
              audit.write(Asking.actor(who, http), "end token", "token " + token.id, "");
            });
    sessions.end(http);
    return ResponseEntity.noContent().build();
  }
}
