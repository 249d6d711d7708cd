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
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** The alerts of promises: one of each at the most, of the kind that holds now. */
final class CommitmentWatch implements SiteWatch {
  private final AlertKind kind;
  private final Danger danger;
  private final Standings standings;

  private CommitmentWatch(AlertKind kind, Danger danger, Standings standings) {
    this.kind = kind;
    this.danger = danger;
    this.standings = standings;
  }

  /** One watch for each kind that the alert of a promise may have. */
  @Configuration
  static class Watches {
    @Bean
    SiteWatch stalledCommitments(Danger danger, Standings standings) {
      return new CommitmentWatch(AlertKind.STALLED, danger, standings);
    }

    @Bean
    SiteWatch endangeredCommitments(Danger danger, Standings standings) {
      return new CommitmentWatch(AlertKind.WILL_BE_LATE, danger, standings);
    }

    @Bean
    SiteWatch lateCommitments(Danger danger, Standings standings) {
      return new CommitmentWatch(AlertKind.LATE, danger, standings);
    }
  }

  @Override
  public AlertKind kind() {
    return kind;
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    return danger.current().map(this::wrong);
  }

  private List<SiteTrouble> wrong(Map<String, Danger.Now> current) {
    return current.values().stream()
        .filter(now -> now.kind() == kind)
        .map(
            now -> {
              Commitment commitment = now.outlook().promised().commitment();
              return new SiteTrouble(
                  now.outlook().promised().reference(),
                  AlertSubject.COMMITMENT,
                  commitment.title(),
                  text(now),
                  recipients(commitment));
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
    return danger
        .current()
        .map(current -> current.get(reference))
        .map(now -> "it is now: " + now.kind().title().toLowerCase(java.util.Locale.ROOT))
        .orElse("it is kept, or in danger no more");
  }
}
