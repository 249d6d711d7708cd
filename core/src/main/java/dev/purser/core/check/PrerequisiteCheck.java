package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.definition.Waits;
import dev.purser.core.job.Job;
import dev.purser.core.prerequisite.Contradiction;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.problem.Problem;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Prerequisites that can never be met whatever happens, and values that may not be there yet when
 * they are asked for.
 */
final class PrerequisiteCheck {
  /** Beyond so many jobs it is no longer looked whether one is waited for by way of others. */
  private static final int FARTHEST = 2_000;

  private final Definitions all;
  private final List<Problem> problems;

  PrerequisiteCheck(Definitions all, List<Problem> problems) {
    this.all = all;
    this.problems = problems;
  }

  void of(List<Document> documents) {
    for (Document document : documents) {
      if (document.value() instanceof Stream stream) {
        stream.jobs().forEach(job -> of(document, stream, job));
        values(document, stream);
      }
    }
  }

  private void of(Document document, Stream stream, Job job) {
    String path = stream.pathOf(job);
    for (Prerequisite asks : job.asks()) {
      for (Contradiction found : Contradiction.in(asks)) {
        problems.add(
            document.warning(
                job,
                path
                    + " waits for \""
                    + found.one()
                    + "\" and \""
                    + found.other()
                    + "\" at once: "
                    + (found.whole() ? "it can never start" : "that part can never be met")));
      }
      for (Prerequisite.OfRun run : asks.runs()) {
        if (run.outcome() == Prerequisite.Outcome.RUNNING
            && Definitions.resolve(run.job(), stream.path()).equals(path)) {
          problems.add(
              document.warning(
                  job,
                  path
                      + " asks whether it is running itself: before it has started it never is;"
                      + " to keep two of its runs apart, use overlap"));
        }
      }
    }
  }

  private void values(Document document, Stream stream) {
    Set<String> told = new HashSet<>();
    for (Document.Mention mention : document.mentions()) {
      if (mention.what() == Document.What.VALUE_OF) {
        String asked = Definitions.resolve(mention.name(), mention.within());
        Optional<Job> user = all.job(mention.user());
        boolean within = mention.user().startsWith(stream.path() + "/");
        if (user.isPresent()
            && within
            && !isWaitedFor(mention.user(), user.get(), asked)
            && told.add(mention.user() + " " + asked)) {
          problems.add(
              Problem.warning(
                  document.file(),
                  mention.line(),
                  mention.column(),
                  mention.user()
                      + " uses a value of "
                      + asked
                      + " but does not wait for it: the value may not be there yet; add \""
                      + mention.name()
                      + " succeeded\" to its waits-for"));
        }
      }
    }
  }

  /** Whether a job has to wait for another, if only by way of others. */
  private boolean isWaitedFor(String path, Job job, String asked) {
    Set<String> first = first(path, job);
    int[] seen = {0};
    return first.contains(asked)
        || Waits.walk(all, first, (one, found) -> one.equals(asked) || ++seen[0] > FARTHEST)
            .isPresent();
  }

  /** What a job itself waits for: a value that is only compared is not waited for by that. */
  private Set<String> first(String path, Job job) {
    return Waits.waitedFor(all, Definitions.streamOf(path), job, job.waitsFor().stream().toList());
  }
}
