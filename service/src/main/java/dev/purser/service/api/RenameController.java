package dev.purser.service.api;

import dev.purser.core.definition.Named;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.view.ProblemViews;
import dev.purser.service.publish.Rename;
import dev.purser.wire.api.VersionViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Definitions get other names, with all that goes by them. */
@RestController
@RequestMapping(path = "/api/v1/definitions", produces = MediaType.APPLICATION_JSON_VALUE)
class RenameController {
  private final Rename rename;

  RenameController(Rename rename) {
    this.rename = rename;
  }

  /** What renaming a definition would change; changes nothing. */
  @PostMapping("/rename-preview")
  VersionViews.RenameView preview(@Valid @RequestBody VersionViews.RenameRequest request) {
    return view(rename.preview(what(request), request.to().strip()));
  }

  /** Renames a definition, wherever it is named: a publication of its own. */
  @PostMapping("/rename")
  ResponseEntity<VersionViews.RenameView> rename(
      @Valid @RequestBody VersionViews.RenameRequest request,
      Authentication who,
      HttpServletRequest http) {
    Rename.Outcome done =
        rename.rename(
            what(request),
            request.to().strip(),
            Asking.actor(who, http),
            Asking.reason(request.reason()));
    return ResponseEntity.status(done.isSound() ? 200 : 422).body(view(done));
  }

  private static Named what(VersionViews.RenameRequest request) {
    return new Named(VersionController.kind(request.kind()), request.name().strip());
  }

  private static VersionViews.RenameView view(Rename.Outcome done) {
    return new VersionViews.RenameView(
        done.revision(),
        done.changed(),
        done.runs(),
        done.problems().stream().map(ProblemViews::view).toList());
  }
}
