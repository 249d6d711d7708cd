package dev.purser.service.alert;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** That somebody is to be told of a step of an alert. */
@Entity
@DynamicUpdate
@Table(name = "notice")
public class NoticeRow {
  /** It has not been looked at yet, or waits for its time. */
  public static final String DUE = "due";

  /**
   * It waits for the end of a quiet time, or until there is room again; then it is told with
   * others.
   */
  public static final String WAITS = "waits";

  /** It is on its way, or was. */
  public static final String TOLD = "told";

  /** It is not told by itself: what it comes of is told. */
  public static final String FOLDED = "folded";

  /** Nobody is told: the note says why. */
  public static final String DROPPED = "dropped";

  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public long alert;

  /** The step that it tells of. */
  public long step;

  /** Of a recipient, a duty, or {@code person NAME}. */
  public String name;

  /** Of whom the name is a member, or has the duty; empty for none. */
  public String byWayOf;

  /** {@code rule}, {@code escalation}, {@code reminder}, {@code update} or {@code over}. */
  public String why;

  /** Word of an urgency. */
  public String urgency;

  public Instant at;
  public Instant due;
  public String state;

  /** What has become of it, for people. */
  public String note;

  /** The first notice of the digest that it is told with; 0 for none. */
  public long digest;

  /** That somebody is to be told of a step, from when it was taken on. */
  public static NoticeRow of(AlertStepRow step, String name, String why, String urgency) {
    NoticeRow notice = new NoticeRow();
    notice.alert = step.alert;
    notice.step = step.id;
    notice.name = name;
    notice.byWayOf = "";
    notice.why = why;
    notice.urgency = urgency;
    notice.at = step.at;
    notice.due = step.at;
    notice.state = DUE;
    notice.note = "";
    return notice;
  }
}
