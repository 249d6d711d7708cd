package dev.purser.service.telling;

import dev.purser.core.board.AlertCause;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.maintenance.MaintenanceRow;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.hibernate.StatelessSession;

/** Of which alerts nobody is told at a moment, because somebody has said so. */
final class Muting {
  private final List<MaintenanceRow> mutes;
  private final Definitions definitions;

  private Muting(List<MaintenanceRow> mutes, Definitions definitions) {
    this.mutes = mutes;
    this.definitions = definitions;
  }

  static Muting at(Instant now, Definitions definitions, StatelessSession session) {
    return new Muting(
        session
            .createSelectionQuery(
                "from MaintenanceRow m where m.what = 'mute' and m.state <> 'over' and m.begins <="
                    + " :now and m.ends > :now order by m.ends desc",
                MaintenanceRow.class)
            .setParameter("now", now)
            .getResultList(),
        definitions);
  }

  /** What mutes an alert, the one that lasts longest; empty where nothing does. */
  Optional<MaintenanceRow> of(AlertRow alert) {
    return mutes.stream().filter(mute -> isIn(alert, mute)).findFirst();
  }

  private boolean isIn(AlertRow alert, MaintenanceRow mute) {
    return switch (mute.scope) {
      case "site" -> true;
      case "stream" -> alert.stream.equals(mute.name) || alert.stream.startsWith(mute.name + "/");
      case "department" -> department(alert).equals(mute.name);
      default -> {
        String key = AlertCause.HOST + mute.name;
        yield alert.ownKey.equals(key) || alert.cause.equals(key);
      }
    };
  }

  private String department(AlertRow alert) {
    if (!alert.stream.isEmpty()) {
      return definitions.streamAt(alert.stream).map(Stream::department).orElse("");
    }
    String name = alert.reference.replaceFirst("@.*", "");
    return definitions.commitment(name).map(one -> one.department()).orElse("");
  }
}
