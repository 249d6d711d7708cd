package dev.purser.service.people;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.service.definition.SiteCheck;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** Questions whose answer is left to people who are not there, or who may not answer. */
@Component
class AnswererCheck implements SiteCheck {
  private final People people;

  AnswererCheck(People people) {
    this.people = people;
  }

  @Override
  public List<Problem> problems(List<Document> documents) {
    List<Problem> found = new ArrayList<>();
    Map<String, PersonRow> all = null;
    for (Document document : documents) {
      if (document.value() instanceof Stream stream) {
        for (Job job : stream.jobs()) {
          if (job.work() instanceof Approval approval && !approval.answering().by().isEmpty()) {
            all = all == null ? byName() : all;
            look(document, stream, job, approval.answering().by(), all, found);
          }
        }
      }
    }
    return found;
  }

  private Map<String, PersonRow> byName() {
    return people.all().stream().collect(Collectors.toMap(row -> row.name, Function.identity()));
  }

  private static void look(
      Document document,
      Stream stream,
      Job job,
      List<String> by,
      Map<String, PersonRow> all,
      List<Problem> found) {
    List<String> reasons = new ArrayList<>();
    by.forEach(name -> reason(name, all).ifPresent(reasons::add));
    if (!reasons.isEmpty()) {
      found.add(
          document.warning(
              job,
              (reasons.size() == by.size() ? "nobody could answer " : "not all that may answer ")
                  + stream.pathOf(job)
                  + (reasons.size() == by.size() ? ": " : " could: ")
                  + String.join("; ", reasons)));
    }
  }

  private static Optional<String> reason(String name, Map<String, PersonRow> all) {
    PersonRow person = all.get(name);
    if (person == null) {
      return Optional.of("there is no person \"" + name + "\"" + Nearest.hint(name, all.keySet()));
    }
    if (person.locked) {
      return Optional.of(name + " is locked out");
    }
    return Role.of(person.role).filter(role -> role.isAtLeast(Role.OPERATOR)).isPresent()
        ? Optional.empty()
        : Optional.of(name + " may only look, not act");
  }
}
