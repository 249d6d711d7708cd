package dev.purser.service.api;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.run.KeptFilters;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.Limits;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The filters of the runs page that people keep. */
@RestController
@RequestMapping(path = "/api/v1/filters", produces = MediaType.APPLICATION_JSON_VALUE)
class FilterController {
  private static final int MOST_NAME = 100;
  private static final int MOST_FILTER = 2_000;

  private final KeptFilters kept;

  FilterController(KeptFilters kept) {
    this.kept = kept;
  }

  /** The filters of the runs page that the person who asks keeps. */
  @GetMapping
  @Paged(by = "name")
  List<ActionViews.KeptFilter> filters(Authentication who) {
    return kept.of(who.getName()).stream()
        .map(row -> new ActionViews.KeptFilter(row.name, row.filter))
        .toList();
  }

  /** Keeps a filter under a name, in place of one of that name. */
  @PutMapping("/{name}")
  List<ActionViews.KeptFilter> keep(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody ActionViews.KeptFilter filter,
      Authentication who) {
    if (name.isBlank() || name.length() > MOST_NAME) {
      throw new NotUnderstood("a filter's name has 1 to " + MOST_NAME + " characters");
    }
    String text = filter.filter() == null ? "" : filter.filter();
    if (text.length() > MOST_FILTER) {
      throw new NotUnderstood("the filter is too long; at most " + MOST_FILTER + " characters");
    }
    kept.keep(who.getName(), name, text);
    return filters(who);
  }

  /** Forgets a filter. */
  @DeleteMapping("/{name}")
  List<ActionViews.KeptFilter> forget(
      @PathVariable @Size(max = Limits.NAME) String name, Authentication who) {
    if (!kept.forget(who.getName(), name)) {
      throw new Problems.NotFound("you keep no filter \"" + name + "\"");
    }
    return filters(who);
  }
}
