package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Duty;
import dev.purser.core.definition.Recipient;
import dev.purser.core.problem.Problem;
import java.time.Instant;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** Duties that nobody has at some time, and recipients that reach nobody. */
final class TellingCheck {
  private static final int DAYS_AHEAD = 400;
  private static final DateTimeFormatter AT =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm", Locale.ROOT);

  private final Definitions all;
  private final LocalDate today;
  private final List<Problem> problems;

  TellingCheck(Definitions all, LocalDate today, List<Problem> problems) {
    this.all = all;
    this.today = today;
    this.problems = problems;
  }

  void of(List<Document> documents) {
    for (Document document : documents) {
      if ((document.value() instanceof Duty || document.value() instanceof Recipient)
          && all.duty(document.name()).isPresent()
          && all.recipient(document.name()).isPresent()) {
        problems.add(
            document.error(
                "\"" + document.name() + "\" is a recipient and a duty; one name means one thing"));
      } else if (document.value() instanceof Duty duty) {
        gaps(document, duty);
        circle(document, duty.name());
      } else if (document.value() instanceof Recipient recipient) {
        if (recipient.ways().isEmpty() && recipient.members().isEmpty()) {
          problems.add(
              document.warning(
                  "nobody is reached by \""
                      + recipient.name()
                      + "\": it has no mail, webhook, chat, traps, command or members"));
        }
        circle(document, recipient.name());
      }
    }
  }

  private void gaps(Document document, Duty duty) {
    Instant from = today.atStartOfDay(duty.zone()).toInstant();
    Instant to = today.plusDays(DAYS_AHEAD).atStartOfDay(duty.zone()).toInstant();
    List<Duty.Stretch> gaps =
        duty.between(from, to, all.calendarsOf(duty)).stream()
            .filter(one -> one.who().isEmpty())
            .toList();
    if (!gaps.isEmpty()) {
      Duty.Stretch first = gaps.get(0);
      problems.add(
          document.error(
              "nobody is on duty from "
                  + AT.format(first.from().atZone(duty.zone()))
                  + " to "
                  + AT.format(first.to().atZone(duty.zone()))
                  + " ("
                  + duty.zone()
                  + ")"
                  + (gaps.size() > 1 ? ", and " + (gaps.size() - 1) + " times more" : "")
                  + "; expected somebody at every time of the next "
                  + DAYS_AHEAD
                  + " days"));
    }
  }

  private void circle(Document document, String name) {
    Set<String> seen = new HashSet<>();
    Deque<String> open = new ArrayDeque<>(below(name));
    while (!open.isEmpty()) {
      String one = open.pop();
      if (one.equals(name)) {
        problems.add(document.error("\"" + name + "\" is a member of itself, by way of others"));
        return;
      }
      if (seen.add(one)) {
        open.addAll(below(one));
      }
    }
  }

  private List<String> below(String name) {
    return all.duty(name)
        .map(
            duty ->
                java.util.stream.Stream.concat(
                        duty.shifts().stream().flatMap(shift -> shift.who().stream()),
                        duty.replacements().stream().map(Duty.Replacement::by))
                    .toList())
        .or(() -> all.recipient(name).map(Recipient::members))
        .orElse(List.of());
  }
}
