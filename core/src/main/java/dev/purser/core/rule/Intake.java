package dev.purser.core.rule;

import dev.purser.core.course.Course;
import dev.purser.core.course.Timers;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.HoldScope;
import java.util.HashMap;
import java.util.Map;

/** Takes in what has happened: each kind of event goes to the rule that knows what it means. */
public final class Intake implements BoardEvent.Visitor<Void> {
  private final Rules rules;
  private final Course course;

  /** Takes in events for a course, by its rules. */
  public Intake(Rules rules) {
    this.rules = rules;
    course = rules.course();
  }

  @Override
  public Void visit(BoardEvent.TurnEnded event) {
    rules.agenda().decide();
    return null;
  }

  @Override
  public Void visit(BoardEvent.TimeReached event) {
    return null; // time was reached before, for every event
  }

  @Override
  public Void visit(BoardEvent.SiteDefined event) {
    course.hosts().define(event.hosts(), event.groups());
    course.units().define(event.capacities());
    rules.alarms().count();
    course.tryAll();
    return null;
  }

  @Override
  public Void visit(BoardEvent.HostSeen event) {
    course.hosts().seen(event.host(), event.labels());
    rules.attempts().giveUpHosts();
    course.tryAll();
    return null;
  }

  @Override
  public Void visit(BoardEvent.HostLost event) {
    long at = course.hosts().lost(event.host(), course.now());
    course.timers().add(at, -1, Timers.Kind.HOST);
    course.tryAll();
    return null;
  }

  @Override
  public Void visit(BoardEvent.HostDrained event) {
    course.hosts().drain(event.host(), event.note(), event.at());
    course.tryAll();
    return null;
  }

  @Override
  public Void visit(BoardEvent.HostReturned event) {
    course.hosts().takeBack(event.host());
    course.tryAll();
    return null;
  }

  @Override
  public Void visit(BoardEvent.RunsPlanned event) {
    rules.plan().planned(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.StartsMissed event) {
    return null; // judged before anything falls due
  }

  @Override
  public Void visit(BoardEvent.RunsRestored event) {
    rules.plan().restored(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.RunsWithdrawn event) {
    rules.plan().withdrawn(event.runs());
    return null;
  }

  @Override
  public Void visit(BoardEvent.RunsRedefined event) {
    new Redefining(rules).redefine(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.StreamRenamed event) {
    new Redefining(rules).rename(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.AttemptsReplaced event) {
    new Redefining(rules).replace(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.DatesClosed event) {
    rules.plan().closeDates(event.before());
    return null;
  }

  @Override
  public Void visit(BoardEvent.AttemptBegan event) {
    rules.attempts().began(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.AttemptTold event) {
    rules.attempts().told(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.AttemptEnded event) {
    rules.attempts().ended(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.FileSeen event) {
    rules.files().seen(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.FileArrived event) {
    rules.files().arrived(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.PersonActed event) {
    new PeoplesActions(rules).act(event);
    return null;
  }

  @Override
  public Void visit(BoardEvent.HoldPlaced event) {
    Map<HoldScope, String> holds = new HashMap<>(course.standing());
    holds.put(event.scope(), event.note());
    course.standing(holds);
    course.tryAll();
    return null;
  }

  @Override
  public Void visit(BoardEvent.HoldLifted event) {
    Map<HoldScope, String> holds = new HashMap<>(course.standing());
    holds.remove(event.scope());
    course.standing(holds);
    course.tryAll();
    return null;
  }

  @Override
  public Void visit(BoardEvent.CapacitySet event) {
    course.units().set(event.capacity(), event.units());
    rules.alarms().count();
    return null;
  }
}
