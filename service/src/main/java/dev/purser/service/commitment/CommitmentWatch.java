package dev.purser.service.commitment;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.definition.Commitment;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/**
 * The alert of each promise that is in danger, stalled or missed: one, of the kind that holds now.
 */
@Component
final class CommitmentWatch implements SiteWatch {
  private final Danger danger;
  private final Standings standings;

  CommitmentWatch(Danger danger, Standings standings) {
    this.danger = danger;
    this.standings = standings;
  }

  @Override
  public Set<AlertKind> kinds() {
    return Set.of(AlertKind.STALLED, AlertKind.WILL_BE_LATE, AlertKind.LATE);
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    return danger.current().map(this::wrong);
  }

  private List<SiteTrouble> wrong(Map<String, Danger.Now> current) {
    return current.values().stream()
        .map(
            now -> {
              Commitment commitment = now.outlook().promised().commitment();
              return new SiteTrouble(
                  now.kind(),
                  now.outlook().promised().reference(),
                  AlertSubject.COMMITMENT,
                  commitment.title(),
                  text(now),
                  recipients(commitment),
                  Optional.of(commitment),
                  Optional.empty(),
                  SiteTrouble.Of.SITE,
                  () -> standings.causeKey(now.outlook()));
            })
        .toList();
  }

  /** What is told; a warning stays for a while after the chance has fallen. */
  private String text(Danger.Now now) {
    String sentence = standings.sentence(now.outlook());
    boolean calm =
        now.kind() == AlertKind.WILL_BE_LATE
            && now.outlook().canSayLate()
            && now.outlook().chanceLate() < now.outlook().promised().commitment().warnAt();
    return calm ? "it was in danger a moment ago; now: " + sentence : sentence;
  }

  private static Set<String> recipients(Commitment commitment) {
    Set<String> names = new LinkedHashSet<>(commitment.alertsTo());
    if (!commitment.owner().isEmpty()) {
      names.add(commitment.owner());
    }
    return names;
  }

  @Override
  public String because(String reference) {
    return "it is kept, or in danger no more";
  }
}
