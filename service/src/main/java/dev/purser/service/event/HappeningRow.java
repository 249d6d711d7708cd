package dev.purser.service.event;

import dev.purser.core.problem.Shorten;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Map;
import tools.jackson.databind.json.JsonMapper;

/** Something that has happened to a file or a commitment. */
@Entity
@Table(name = "happening")
public class HappeningRow {
  /** Puts one on record, in this order of its columns. */
  public static final String INSERT =
      "insert into happening (topic, at, kind, subject, stream, department, data) values"
          + " (?,?,?,?,?,?,?)";

  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int LONGEST = 2_000;

  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public String topic;
  public Instant at;
  public String kind;
  public String subject;
  public String stream;
  public String department;

  /** A JSON object. */
  public String data;

  /** Of something that happens now. */
  public static HappeningRow of(
      String topic,
      Instant at,
      String kind,
      String subject,
      String department,
      Map<String, Object> data) {
    HappeningRow row = new HappeningRow();
    row.topic = topic;
    row.at = at;
    row.kind = kind;
    row.subject = Shorten.text(subject, LONGEST);
    row.stream = "";
    row.department = department;
    row.data = JSON.writeValueAsString(data);
    return row;
  }

  /** The values of {@link #INSERT}. */
  public Object[] values() {
    return new Object[] {topic, at, kind, subject, stream, department, data};
  }
}
