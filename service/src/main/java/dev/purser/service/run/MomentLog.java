package dev.purser.service.run;

import dev.purser.service.event.Event;
import dev.purser.service.event.EventLog;
import jakarta.persistence.EntityManager;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What has happened to runs: each change of their state. */
@Component
@Transactional(readOnly = true)
class MomentLog implements EventLog {
  private final EntityManager rows;

  MomentLog(EntityManager rows) {
    this.rows = rows;
  }

  @Override
  public String topic() {
    return "runs";
  }

  @Override
  public long newest() {
    Long last = rows.createQuery("select max(m.id) from MomentRow m", Long.class).getSingleResult();
    return last == null ? 0 : last;
  }

  @Override
  public List<Event> between(long after, long to, int most) {
    List<Event> all = new ArrayList<>();
    for (Object[] row :
        rows.createQuery(
                "select m, r from MomentRow m join RunRow r on r.id = m.run where m.id > :after and"
                    + " m.id <= :to order by m.id",
                Object[].class)
            .setParameter("after", after)
            .setParameter("to", to)
            .setMaxResults(most)
            .getResultList()) {
      all.add(event((MomentRow) row[0], (RunRow) row[1]));
    }
    return all;
  }

  private Event event(MomentRow moment, RunRow run) {
    Map<String, Object> data = new LinkedHashMap<>();
    data.put("run", run.id);
    data.put("state", moment.state);
    data.put("note", moment.note);
    data.put("title", run.title);
    data.put("job", run.stream + "/" + run.job);
    data.put("date", run.businessDate.toString());
    return new Event(
        topic(),
        moment.id,
        moment.at,
        "run." + moment.state,
        run.stream + "/" + run.job + "@" + run.businessDate + "#" + run.number,
        run.stream,
        run.department,
        moment.state,
        data);
  }
}
