package dev.purser.service.api;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.job.Job;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.transfer.Transfer;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.board.Engine;
import dev.purser.service.secret.KnownSecrets;
import dev.purser.service.secret.SecretPermitRow;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import dev.purser.service.secret.StoredSecretRow;
import dev.purser.service.secret.StoredSecrets;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.SecretViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.util.List;
import java.util.stream.Stream;
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
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Which secrets connections may use, for administrators; no secret itself is ever shown. */
@RestController
@RequestMapping(path = "/api/v1/secrets", produces = MediaType.APPLICATION_JSON_VALUE)
class SecretController {
  private final SecretPermits permits;
  private final StoredSecrets stored;
  private final KnownSecrets known;
  private final Engine engine;

  SecretController(SecretPermits permits, StoredSecrets stored, KnownSecrets known, Engine engine) {
    this.permits = permits;
    this.stored = stored;
    this.known = known;
    this.engine = engine;
  }

  /** Every permit, with the connections that use it. */
  @GetMapping
  @Paged(by = "id")
  List<SecretViews.PermitView> list() {
    return permits.all().stream().map(this::view).toList();
  }

  private SecretViews.PermitView view(SecretPermitRow row) {
    SecretSource own = new SecretSource(row.source, row.name, row.address);
    List<String> users =
        engine.definitions().connections().stream()
            .filter(one -> SecretSource.of(one).filter(own::equals).isPresent())
            .map(Connection::name)
            .toList();
    return new SecretViews.PermitView(
        row.id, row.source, row.name, row.address, users, row.since, row.who, row.reason);
  }

  /** Lets connections to an address use a variable or file of the service's host. */
  @PostMapping
  SecretViews.PermitView allow(
      @Valid @RequestBody SecretViews.PermitRequest request,
      Authentication who,
      HttpServletRequest http) {
    SecretSource source =
        SecretSource.of(text(request.source()), text(request.name()), text(request.address()));
    SecretPermitRow row =
        permits.allow(source, Asking.actor(who, http), Asking.reason(request.reason()));
    known.refresh();
    return view(row);
  }

  private static String text(String given) {
    return given == null ? "" : given.strip();
  }

  /** Takes a permit back: connections that use it are cut off within seconds. */
  @DeleteMapping("/{id}")
  ResponseEntity<Void> disallow(
      @PathVariable long id,
      @RequestParam(defaultValue = "") @Size(max = Limits.REASON) String reason,
      Authentication who,
      HttpServletRequest http) {
    if (!permits.disallow(id, Asking.actor(who, http), Asking.reason(reason))) {
      throw new Problems.NotFound("there is no permit " + id);
    }
    return ResponseEntity.noContent().build();
  }

  // ---- those that the service keeps

  /** Every secret that the service keeps, without the secret. */
  @GetMapping("/stored")
  @Paged(by = "name")
  List<SecretViews.StoredView> stored() {
    return stored.all().stream().map(this::view).toList();
  }

  private SecretViews.StoredView view(StoredSecretRow row) {
    return new SecretViews.StoredView(
        row.name,
        row.version,
        row.keyId,
        permits.all().stream()
            .filter(permit -> permit.source.equals("stored") && permit.name.equals(row.name))
            .map(permit -> permit.address)
            .toList(),
        usedBy(row.name),
        row.since,
        row.who,
        row.used);
  }

  private static boolean uses(Job job, String secret) {
    boolean seals =
        job.work() instanceof Transfer transfer
            && (transfer.sealing().signWith().equals(secret)
                || transfer.sealing().decryptWith().equals(secret));
    return seals || job.secrets().names().contains(secret);
  }

  /** Connections by name, and jobs by their paths. */
  private List<String> usedBy(String secret) {
    Definitions all = engine.definitions();
    Stream<String> connections =
        all.connections().stream()
            .filter(one -> one.secret().stored().equals(secret))
            .map(Connection::name);
    Stream<String> jobs =
        all.streams().stream()
            .flatMap(
                stream ->
                    stream.jobs().stream()
                        .filter(job -> uses(job, secret))
                        .map(job -> stream.path() + "/" + job.name()));
    return Stream.concat(connections, jobs).toList();
  }

  /**
   * Keeps a secret, in the place of one of that name, and lets it go to the receivers that are
   * named. It is never shown again.
   */
  @PutMapping("/stored/{name}")
  SecretViews.StoredView set(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody SecretViews.StoredRequest request,
      Authentication who,
      HttpServletRequest http) {
    List<String> receivers = request.receivers() == null ? List.of() : request.receivers();
    List<SecretSource> sources =
        receivers.stream().map(one -> SecretSource.of("stored", name, address(one))).toList();
    String secret = request.secret() == null ? "" : request.secret();
    String reason = Asking.reason(request.reason());
    StoredSecretRow row = stored.set(name, secret, Asking.actor(who, http), reason);
    sources.forEach(source -> permits.allow(source, Asking.actor(who, http), reason));
    known.refresh();
    return view(row);
  }

  /** An address, or where the connection of that name sends its secret. */
  private String address(String given) {
    if (given.contains("://") || given.startsWith("host:") || given.startsWith("stream:")) {
      return given.strip();
    }
    return engine
        .definitions()
        .connection(given.strip())
        .map(Connection::secretGoesTo)
        .orElseThrow(
            () ->
                new NotUnderstood(
                    "\""
                        + given
                        + "\" is neither an address, nor a connection, nor host:NAME"
                        + Nearest.hint(
                            given.strip(), engine.definitions().names(Kind.CONNECTION))));
  }

  /** Forgets a secret: connections that use it cannot sign in from now on. */
  @DeleteMapping("/stored/{name}")
  ResponseEntity<Void> remove(
      @PathVariable @Size(max = Limits.NAME) String name,
      @RequestParam(defaultValue = "") @Size(max = Limits.REASON) String reason,
      Authentication who,
      HttpServletRequest http) {
    if (!stored.remove(name, Asking.actor(who, http), Asking.reason(reason))) {
      throw new Problems.NotFound("there is no secret \"" + name + "\"");
    }
    return ResponseEntity.noContent().build();
  }

  /** Encrypts every secret with the first key of the file, so that the others can go. */
  @PostMapping("/encryption")
  SecretViews.AnewView encryptAnew(
      @Valid @RequestBody SecretViews.AnewRequest request,
      Authentication who,
      HttpServletRequest http) {
    return new SecretViews.AnewView(
        stored.encryptAnew(Asking.actor(who, http), Asking.reason(request.reason())));
  }
}
