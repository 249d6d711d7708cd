package dev.purser.service.alert;

import dev.purser.core.alert.AlertRule;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import tools.jackson.databind.json.JsonMapper;

/**
 * When somebody must be told again of an alert that nobody has taken on, or told besides. Kept with
 * the alert as it was when it was opened.
 *
 * @param escalation in order of time
 * @param remindMillis 0 for never
 */
public record NextLooks(List<Step> escalation, long remindMillis) {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  /** Who is told besides, so long after it was opened. */
  public record Step(long afterMillis, List<String> tell) {}

  /** As a rule says. */
  public static NextLooks of(AlertRule rule) {
    return new NextLooks(
        rule.escalation().stream()
            .map(one -> new Step(one.after().toMillis(), one.tell()))
            .toList(),
        rule.remindEvery().toMillis());
  }

  /** As it was kept. */
  public static NextLooks of(String text) {
    return text == null ? new NextLooks(List.of(), 0) : JSON.readValue(text, NextLooks.class);
  }

  String toText() {
    return JSON.writeValueAsString(this);
  }

  boolean isNone() {
    return escalation.isEmpty() && remindMillis == 0;
  }

  /** When to look first; empty for never. */
  public Optional<Instant> first(Instant opened) {
    return next(opened, 0, opened);
  }

  /**
   * When to look next.
   *
   * @param looks how many steps have been told
   * @param told when somebody was told last
   */
  public Optional<Instant> next(Instant opened, int looks, Instant told) {
    List<Instant> times = new ArrayList<>();
    if (looks < escalation.size()) {
      times.add(opened.plusMillis(escalation.get(looks).afterMillis()));
    }
    if (remindMillis > 0) {
      times.add(told.plusMillis(remindMillis));
    }
    return times.stream().min(Instant::compareTo);
  }

  /** The step that is due; empty where none is. */
  public Optional<Step> due(Instant opened, int looks, Instant now) {
    return Optional.of(looks)
        .filter(at -> at < escalation.size())
        .map(escalation::get)
        .filter(step -> !opened.plusMillis(step.afterMillis()).isAfter(now));
  }
}
