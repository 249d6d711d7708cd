package dev.purser.core.kind;

import dev.purser.core.container.Container;
import dev.purser.core.definition.ConnectionKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Work;
import dev.purser.core.reading.Fields;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import java.util.Set;
import java.util.function.Consumer;

/** {@code container}: work in a container cluster. */
public final class ContainerKind implements WorkKind {
  private static final String NAME = "[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?";

  @Override
  public String key() {
    return "container";
  }

  @Override
  public String inWords() {
    return "work in a container";
  }

  @Override
  public Set<String> reads() {
    return Set.of(Container.KIND);
  }

  @Override
  public Happens happens() {
    return Happens.IN_SERVICE;
  }

  @Override
  public Set<String> alsoTakes() {
    return Set.of("environment", "secrets");
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may(key(), Keys.Form.TEXT, "An image that is run: registry.example/sea-model:4.2.")
        .may("cluster", Keys.Form.NAME, "The connection of the cluster.")
        .may("namespace", Keys.Form.NAME, "Where in the cluster; default.")
        .may(
            "command",
            Keys.Form.NAMES,
            "What is run instead of what the image says, word by word; with ${placeholders}.")
        .may("cpu", Keys.Form.TEXT, "How much it is given: 500m is half a core.")
        .may("memory", Keys.Form.TEXT, "How much it is given: 512Mi.");
  }

  @Override
  public Work read(JobFields job) {
    Fields fields = job.fields();
    String image = job.template(key());
    if (image.matches("(?s).*[\\s\\p{Cntrl}].*") && !image.contains("${")) {
      job.error(
          key(), "\"" + image + "\" is not an image; expected one such as registry.example/x:1");
    }
    String cluster = fields.has("cluster") ? fields.name("cluster") : "";
    if (cluster.isEmpty()) {
      job.error(key(), "a container needs a \"cluster\": the name of a connection");
    } else {
      job.mention("cluster", Document.What.CONNECTION, cluster);
    }
    String namespace = fields.text("namespace", Container.USUAL_NAMESPACE);
    if (!namespace.matches(NAME)) {
      job.error("namespace", "\"" + namespace + "\" is not a valid name of a namespace");
    }
    return new Container(
        image,
        cluster,
        namespace,
        job.templates("command"),
        amount(job, "cpu", "\\d{1,6}m?|\\d{1,4}\\.\\d{1,3}", "500m or 2"),
        amount(job, "memory", "\\d{1,12}([KMGT]i?)?", "512Mi or 2Gi"));
  }

  private static String amount(JobFields job, String key, String form, String example) {
    String text = job.fields().text(key, "");
    if (!text.isEmpty() && !text.matches(form)) {
      job.error(key, "cannot use \"" + text + "\" for \"" + key + "\"; expected " + example);
    }
    return text;
  }

  /** Whether the connection leads to a cluster. */
  @Override
  public void check(Job job, Stream stream, Definitions all, Consumer<String> errors) {
    String cluster = ((Container) job.work()).cluster();
    all.connection(cluster)
        .filter(one -> one.kind() != ConnectionKind.CLUSTER)
        .ifPresent(
            one ->
                errors.accept(
                    "job \""
                        + job.name()
                        + "\" has a container for "
                        + cluster
                        + ", which is not a connection of the kind cluster"));
  }
}
