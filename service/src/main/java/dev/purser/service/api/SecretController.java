package dev.purser.service.api;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Kind;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.board.Engine;
import dev.purser.service.secret.SecretPermitRow;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.SecretViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
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

/** Which secrets connections may use, for administrators; no secret itself is ever shown. */
@RestController
@RequestMapping(path = "/api/v1/secrets", produces = MediaType.APPLICATION_JSON_VALUE)
class SecretController {
  private final SecretPermits permits;
  private final Engine engine;

  SecretController(SecretPermits permits, Engine engine) {
    this.permits = permits;
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
        engine.definitions().documents().stream()
            .filter(document -> document.kind() == Kind.CONNECTION)
            .map(document -> (Connection) document.value())
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
    return view(permits.allow(source, Asking.actor(who, http), Asking.reason(request.reason())));
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
}
