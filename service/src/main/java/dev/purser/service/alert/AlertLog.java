package dev.purser.service.alert;

import dev.purser.service.Settings;
import dev.purser.service.event.Event;
import dev.purser.service.event.EventLog;
import jakarta.persistence.EntityManager;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What has become of alerts, step by step. */
@Component
@Transactional(readOnly = true)
class AlertLog implements EventLog {
  private final EntityManager rows;
  private final AlertEvents events;
  private final Settings settings;

  AlertLog(EntityManager rows, AlertEvents events, Settings settings) {
    this.rows = rows;
    this.events = events;
    this.settings = settings;
  }

  @Override
  public String topic() {
    return "alerts";
  }

  @Override
  public long newest() {
    Long last =
        rows.createQuery("select max(s.id) from AlertStepRow s", Long.class).getSingleResult();
    return last == null ? 0 : last;
  }

  @Override
  public List<Event> between(long after, long to, int most) {
    return events.between(after, to, most).stream().map(this::event).toList();
  }

  private Event event(AlertEvents.Event found) {
    AlertRow alert = found.alert();
    Map<String, Object> data = new LinkedHashMap<>();
    data.put("alert", alert.id);
    data.put("step", found.step().what);
    data.put("kind", found.step().kind);
    data.put("urgency", alert.urgency);
    data.put("title", alert.title);
    data.put("text", found.step().text);
    data.put("who", found.step().who);
    data.put("reference", alert.reference);
    data.put("run", alert.run);
    data.put("console", settings.consoleAddress() + alert.page());
    return new Event(
        topic(),
        found.step().id,
        found.step().at,
        "alert." + found.step().what.replace(' ', '-'),
        alert.reference,
        alert.stream,
        "",
        found.step().kind,
        data);
  }
}
