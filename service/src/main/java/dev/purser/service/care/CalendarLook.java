package dev.purser.service.care;

import dev.purser.core.alert.AlertKind;
import dev.purser.service.alert.Alerts;
import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Looks whether calendars run out. */
@Component
class CalendarLook implements Look {
  private final Alerts alerts;

  CalendarLook(Alerts alerts) {
    this.alerts = alerts;
  }

  @Override
  public String about() {
    return "calendars";
  }

  @Override
  public List<Finding> find() {
    int open = alerts.openAbout(Set.of(AlertKind.CALENDAR)).size();
    return List.of(
        open == 0
            ? Finding.good("calendars", "all that are in use are known far enough")
            : Finding.look(
                "calendars",
                (open == 1 ? "one runs" : open + " run") + " out soon, or cannot be fetched",
                "purser alerts names what it is; publish its next year"));
  }
}
