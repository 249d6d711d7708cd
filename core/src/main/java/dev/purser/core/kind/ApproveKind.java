package dev.purser.core.kind;

import dev.purser.core.job.Approval;
import dev.purser.core.job.Work;
import dev.purser.core.problem.Nearest;
import dev.purser.core.reading.Fields;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import java.util.Optional;
import java.util.Set;

/** {@code approve}: a question to a person. */
public final class ApproveKind implements WorkKind {
  private static final Keys ANSWER =
      new Keys()
          .may("by", Keys.Form.NAMES, "Who may answer, by name; everybody who may act on runs.")
          .may("remind", Keys.Form.DURATION, "An alert reminds people after this.")
          .may("lapses", Keys.Form.DURATION, "It is asked no more after this.")
          .may("then", Keys.Form.TEXT, "What lapsing means: fail, skip or approve; fail.");

  @Override
  public String key() {
    return "approve";
  }

  @Override
  public String inWords() {
    return "a question";
  }

  @Override
  public Set<String> reads() {
    return Set.of(Approval.KIND);
  }

  @Override
  public Happens happens() {
    return Happens.NOWHERE;
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may(key(), Keys.Form.TEXT, "A question to a person, instead of a command.")
        .may("answer", Keys.Form.ENTRY, "Of an approval: who may answer, and until when.", ANSWER);
  }

  @Override
  public Work read(JobFields job) {
    String question = job.template(key());
    return new Approval(
        question, job.fields().has("answer") ? answering(job) : Approval.Answering.ANYBODY);
  }

  private static Approval.Answering answering(JobFields job) {
    Fields answer = job.below("answer", ANSWER, "an answer");
    String then = answer.text("then", Approval.Lapse.FAIL.word());
    Optional<Approval.Lapse> lapse = Approval.Lapse.of(then);
    if (lapse.isEmpty()) {
      job.error(
          answer, "then", "unknown \"" + then + "\"" + Nearest.hint(then, Approval.Lapse.words()));
    }
    if (answer.has("then") && !answer.has("lapses")) {
      job.error(answer, "then", "\"then\" says what lapsing means; it needs \"lapses\" too");
    }
    return new Approval.Answering(
        answer.items("by").stream().map(Fields.Item::text).toList(),
        answer.span("remind"),
        answer.span("lapses"),
        lapse.orElse(Approval.Lapse.FAIL));
  }
}
