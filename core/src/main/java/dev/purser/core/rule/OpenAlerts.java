package dev.purser.core.rule;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.course.Course;
import dev.purser.core.course.Runs;
import dev.purser.core.event.AlertReason;
import dev.purser.core.event.Instruction;
import java.util.EnumSet;
import java.util.Set;

/** The alerts that are open for runs: each kind at most once, until its reason is gone. */
final class OpenAlerts {
  private final Rules rules;
  private final Course course;
  private final Runs runs;

  OpenAlerts(Rules rules) {
    this.rules = rules;
    course = rules.course();
    runs = course.runs();
  }

  boolean isNone(int run) {
    return runs.alerts.get(run).isEmpty();
  }

  void open(int run, AlertKind kind, AlertReason reason) {
    if (set(run, kind, true)) {
      rules.out().add(new Instruction.OpenAlert(kind, course.id(run), reason));
    }
  }

  void close(int run, AlertKind kind, String because) {
    if (set(run, kind, false)) {
      rules.out().add(new Instruction.CloseAlert(kind, course.id(run), because));
    }
  }

  private boolean set(int run, AlertKind kind, boolean open) {
    Set<AlertKind> before = runs.alerts.get(run);
    if (before.contains(kind) == open) {
      return false;
    }
    EnumSet<AlertKind> after = EnumSet.noneOf(AlertKind.class);
    after.addAll(before);
    boolean changed = open ? after.add(kind) : after.remove(kind);
    runs.alerts.set(run, after.isEmpty() ? Set.of() : after); // copies share it: never changed
    return changed;
  }
}
