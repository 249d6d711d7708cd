package dev.purser.service.care;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Recipient;
import dev.purser.core.problem.Shorten;
import dev.purser.service.alert.ServiceTroubles;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.board.Engine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.springframework.stereotype.Component;

/**
 * What looks find of the service itself, once it has lasted for a minute. Where no rule says who is
 * told, those are who ask for this kind by name.
 */
@Component
class FindingTroubles implements ServiceTroubles {
  private static final Duration LOOKS_EVERY = Duration.ofSeconds(20);
  private static final Duration LASTS = Duration.ofMinutes(1);
  private static final String ABOUT = "service: ";

  private final List<Look> looks;
  private final Engine engine;
  private final Clock clock;
  private final Map<String, Instant> since = new TreeMap<>();
  private Instant looked = Instant.EPOCH;
  private List<Finding> found = List.of();

  FindingTroubles(List<Look> looks, Engine engine, Clock clock) {
    this.looks = looks.stream().filter(Look::isTold).toList();
    this.engine = engine;
    this.clock = clock;
  }

  @Override
  public synchronized List<SiteTrouble> wrong() {
    Instant now = clock.instant();
    if (!looked.plus(LOOKS_EVERY).isAfter(now) || now.isBefore(looked)) {
      looked = now;
      look(now);
    }
    Set<String> names = receivers(engine.definitions());
    List<SiteTrouble> all = new ArrayList<>();
    for (Finding one : found) {
      if (!since.get(one.about()).plus(LASTS).isAfter(now)) {
        all.add(
            new SiteTrouble(
                AlertKind.SERVICE,
                Shorten.text(ABOUT + one.about(), 300),
                AlertSubject.SERVICE,
                "Purser itself: " + one.about(),
                one.text() + ". What to do: " + one.remedy(),
                names));
      }
    }
    return all;
  }

  private void look(Instant now) {
    found = looks.stream().flatMap(look -> Care.find(look).stream().filter(look::isTold)).toList();
    since.keySet().retainAll(found.stream().map(Finding::about).toList());
    found.forEach(one -> since.putIfAbsent(one.about(), now));
  }

  /** A recipient that receives all kinds has not asked for this one. */
  private static Set<String> receivers(Definitions definitions) {
    Set<String> names = new LinkedHashSet<>();
    for (String name : definitions.names(Kind.RECIPIENT)) {
      Set<AlertKind> receives =
          definitions.recipient(name).map(Recipient::receives).orElse(Set.of());
      if (receives.contains(AlertKind.SERVICE) && receives.size() < AlertKind.values().length) {
        names.add(name);
      }
    }
    return names;
  }
}
