package dev.purser.e2e.echo;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Work;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import java.time.Duration;
import java.util.Set;
import java.util.function.Consumer;

/**
 * {@code echo}: a kind of work of the tests' own, to show what one needs: three files like this.
 */
public final class EchoKind implements WorkKind {
  @Override
  public String key() {
    return "echo";
  }

  @Override
  public String inWords() {
    return "words to be said";
  }

  @Override
  public Set<String> reads() {
    return Set.of(Echo.KIND);
  }

  @Override
  public Happens happens() {
    return Happens.IN_SERVICE;
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may("echo", Keys.Form.TEXT, "What is said; with ${placeholders}.")
        .may("echo-for", Keys.Form.DURATION, "How long that takes; no time.")
        .may("echo-code", Keys.Form.NUMBER, "The code with which it ends; 0.");
  }

  @Override
  public Work read(JobFields job) {
    return new Echo(
        job.template("echo"),
        job.fields().duration("echo-for").orElse(Duration.ZERO),
        job.fields().number("echo-code", 0, 255).orElse(0));
  }

  @Override
  public void check(Job job, Stream stream, Definitions all, Consumer<String> errors) {
    if (((Echo) job.work()).text().contains("silence")) {
      errors.accept("job \"" + job.name() + "\" cannot say silence");
    }
  }
}
