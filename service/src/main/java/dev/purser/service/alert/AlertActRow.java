package dev.purser.service.alert;

import dev.purser.core.alert.AlertAct;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import tools.jackson.databind.json.JsonMapper;

/** What a rule does of an alert. Written with the alert; then only whoever does it changes it. */
@Entity
@Table(name = "alert_act")
public class AlertActRow {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public long alert;

  /** 0 for an alert that is about no run. */
  public long run;

  /** Where the rule stands. */
  public String rule;

  /** Word of what is done. */
  public String what;

  /** The whole of it, as JSON: what, argument, parameters, limits. */
  public String argument;

  /** How often at the most. */
  public int most;

  /** How many starts of alerts came one of the other; 0 until it is done. */
  public int round;

  public Instant due;
  public Instant done;

  /** {@code due}, {@code done} or {@code refused}. */
  public String state;

  /** What came of it, for people. */
  public String note;

  /** What it started, as {@code stream@date#number}; empty for nothing. */
  public String started;

  /** What a rule does of an alert, with its parameters filled in. */
  static AlertActRow of(AlertRow alert, AlertAct act, Instant at) {
    AlertActRow row = new AlertActRow();
    row.alert = alert.id;
    row.run = alert.run;
    row.rule = alert.rule;
    row.what = act.what().word();
    row.argument = JSON.writeValueAsString(act);
    row.most = act.most();
    row.due = at.plus(act.after());
    row.state = "due";
    row.note = "";
    row.started = "";
    return row;
  }

  /** The whole of it. */
  public AlertAct act() {
    return JSON.readValue(argument, AlertAct.class);
  }
}
