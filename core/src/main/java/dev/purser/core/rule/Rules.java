package dev.purser.core.rule;

import dev.purser.core.course.Course;
import dev.purser.core.event.Instruction;
import dev.purser.core.event.Instructions;
import dev.purser.core.run.RunState;

/** The rules of one board, which know each other through this, and what they have instructed. */
public final class Rules {
  private final Course course;
  private final Instructions out = new Instructions();
  private final Transitions transitions;
  private final OpenAlerts alerts;
  private final FilesOfRuns files;
  private final Steps steps;
  private final Attempts attempts;
  private final Starting starting;
  private final Agenda agenda;
  private final Alarms alarms;
  private final Plan plan;

  /** All rules over one course. */
  public Rules(Course course) {
    this.course = course;
    alerts = new OpenAlerts(this);
    files = new FilesOfRuns(this);
    transitions = new Transitions(this);
    steps = new Steps(this);
    attempts = new Attempts(this);
    starting = new Starting(this);
    agenda = new Agenda(this);
    alarms = new Alarms(this);
    plan = new Plan(this);
  }

  Course course() {
    return course;
  }

  /** What is instructed goes here. */
  public Instructions out() {
    return out;
  }

  Transitions transitions() {
    return transitions;
  }

  OpenAlerts alerts() {
    return alerts;
  }

  FilesOfRuns files() {
    return files;
  }

  Steps steps() {
    return steps;
  }

  Attempts attempts() {
    return attempts;
  }

  Starting starting() {
    return starting;
  }

  Agenda agenda() {
    return agenda;
  }

  /** What happens by the clock. */
  public Alarms alarms() {
    return alarms;
  }

  /** How runs come and go. */
  public Plan plan() {
    return plan;
  }

  /** Says that a run has changed and must be recorded. */
  void changed(int run, String note) {
    RunState state = course.stateAt(run);
    out.add(new Instruction.RunChanged(course.id(run), state, note));
  }

  /** The reference of a run, for messages. */
  String reference(int run) {
    return course.spec(run).run().reference().toString();
  }
}
