package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import java.util.Collection;
import java.util.List;

/**
 * Streams of which nobody would be told that they are late or have failed. A site without any
 * recipient has said that it looks by itself.
 */
final class AlertCheck {
  private final Definitions all;
  private final List<Problem> problems;

  AlertCheck(Definitions all, List<Problem> problems) {
    this.all = all;
    this.problems = problems;
  }

  void of(List<Document> documents) {
    Collection<String> recipients = all.names(Kind.RECIPIENT);
    if (recipients.isEmpty()) {
      return;
    }
    for (Document document : documents) {
      if (document.value() instanceof Stream stream
          && stream.startsByItself()
          && stream.alertsTo().isEmpty()
          && !all.isAddressee(stream.owner())) {
        problems.add(
            document.warning(
                "nobody would be told of alerts of "
                    + stream.path()
                    + ": "
                    + (stream.owner().isEmpty()
                        ? "it has no owner and no alerts-to"
                        : "its owner \""
                            + stream.owner()
                            + "\" is not a recipient"
                            + Nearest.hint(stream.owner(), recipients))));
      }
    }
  }
}
