package dev.purser.service.alert;

import dev.purser.core.alert.Unusual;
import dev.purser.core.run.RunSpec;
import java.util.ArrayList;
import java.util.List;
import org.hibernate.StatelessSession;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What a value was in the last runs of a job that succeeded. */
final class ValuesBefore {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private ValuesBefore() {}

  /** The values of a name, of at most {@link Unusual#LAST} runs before one. */
  static List<String> of(StatelessSession session, RunSpec run, String name) {
    List<String> values = new ArrayList<>();
    for (String all :
        session
            .createSelectionQuery(
                "select r.handedBack from RunRow r where r.stream = :stream and r.job = :job and"
                    + " r.state = 'succeeded' and r.id <> :id and r.handedBack is not null order by"
                    + " r.ended desc",
                String.class)
            .setParameter("stream", run.run().reference().stream())
            .setParameter("job", run.run().reference().job())
            .setParameter("id", run.id())
            .setMaxResults(Unusual.LAST)
            .getResultList()) {
      JsonNode value = JSON.readTree(all).get(name);
      if (value != null) {
        values.add(value.asString());
      }
    }
    return values;
  }
}
