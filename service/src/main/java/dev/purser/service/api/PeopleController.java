package dev.purser.service.api;

import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.MailWay;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.PersonRow;
import dev.purser.service.people.Role;
import dev.purser.service.people.SignInGuard;
import dev.purser.service.people.Tokens;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.PeopleViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
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
import org.springframework.web.bind.annotation.RestController;

/** People, as administrators see them. */
@RestController
@RequestMapping(path = "/api/v1/people", produces = MediaType.APPLICATION_JSON_VALUE)
class PeopleController {
  private static final List<String> ACTIONS = List.of("lock", "unlock", "sign-out");

  private final People people;
  private final Passwords passwords;
  private final Tokens tokens;
  private final SignInGuard guard;
  private final AuditTrail audit;

  PeopleController(
      People people, Passwords passwords, Tokens tokens, SignInGuard guard, AuditTrail audit) {
    this.guard = guard;
    this.people = people;
    this.passwords = passwords;
    this.tokens = tokens;
    this.audit = audit;
  }

  /** Everybody who may sign in. */
  @GetMapping
  @Paged(by = "name")
  List<PeopleViews.PersonView> list() {
    Map<String, Long> held =
        tokens.list("").stream()
            .collect(Collectors.groupingBy(row -> row.person, Collectors.counting()));
    return people.all().stream()
        .map(person -> view(person, held.getOrDefault(person.name, 0L).intValue()))
        .toList();
  }

  private static PeopleViews.PersonView view(PersonRow person, int tokens) {
    return new PeopleViews.PersonView(
        person.name,
        person.role,
        person.locked,
        person.mustChange,
        tokens,
        person.created,
        person.mail);
  }

  /**
   * Adds a person, or gives one another role or password. A password that somebody else has set
   * must be replaced at the next sign-in.
   */
  @PutMapping("/{name}")
  PeopleViews.PersonView save(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody PeopleViews.PersonRequest request,
      Authentication who,
      HttpServletRequest http) {
    String word = request.role() == null ? "" : request.role();
    Role role =
        Role.of(word)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "unknown role \"" + word + "\"" + Nearest.hint(word, Role.words())));
    String password = request.password() == null ? "" : request.password();
    boolean isNew = people.byName(name).isEmpty();
    if (password.isEmpty() && isNew) {
      throw new NotUnderstood(
          name + " is new here and needs a first password of at least 12 characters");
    }
    String mail = request.mail() == null ? "" : request.mail().strip();
    if (!mail.isEmpty() && !MailWay.isAddress(mail)) {
      throw new NotUnderstood("\"" + mail + "\" is not an e-mail address");
    }
    if (password.isEmpty()) {
      people.changeRole(name, role);
    } else {
      people.save(name, role, passwords.hash(password), !name.equals(who.getName()));
    }
    if (request.mail() != null) {
      people.changeMail(name, mail);
    }
    audit.write(
        Asking.actor(who, http),
        "save person",
        "person " + name,
        role.word() + (password.isEmpty() ? "" : ", with a new password"));
    return one(name);
  }

  private PeopleViews.PersonView one(String name) {
    PersonRow person = people.byName(name).orElseThrow(() -> nobody(name));
    return view(person, tokens.list(name).size());
  }

  private static Problems.NotFound nobody(String name) {
    return new Problems.NotFound("there is nobody named \"" + name + "\"");
  }

  /** Locks a person out at once, lets them in again, or ends their sessions. */
  @PostMapping("/{name}/actions")
  PeopleViews.PersonView act(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody PeopleViews.PersonAction request,
      Authentication who,
      HttpServletRequest http) {
    String action = request.action() == null ? "" : request.action();
    if (!ACTIONS.contains(action)) {
      throw new NotUnderstood("unknown action \"" + action + "\"" + Nearest.hint(action, ACTIONS));
    }
    String reason = Asking.reason(request.reason());
    boolean isThere =
        action.equals("sign-out")
            ? people.endSessions(name)
            : people.lock(name, action.equals("lock"));
    if (!isThere) {
      throw nobody(name);
    }
    if (action.equals("unlock")) {
      guard.forget(name);
    }
    audit.write(Asking.actor(who, http), action, "person " + name, reason);
    return one(name);
  }

  /** Removes a person, with their tokens. */
  @DeleteMapping("/{name}")
  ResponseEntity<Void> remove(
      @PathVariable @Size(max = Limits.NAME) String name,
      Authentication who,
      HttpServletRequest http) {
    if (name.equals(who.getName())) {
      throw new Problems.Conflict("nobody can remove themselves");
    }
    if (!people.remove(name)) {
      throw nobody(name);
    }
    audit.write(Asking.actor(who, http), "remove person", "person " + name, "");
    return ResponseEntity.noContent().build();
  }
}
