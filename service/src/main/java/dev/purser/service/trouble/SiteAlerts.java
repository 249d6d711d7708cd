package dev.purser.service.trouble;

import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.alert.Alerts;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import java.time.Clock;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Keeps one alert open for each thing that is wrong with the site, and closes it when it is not any
 * more. What is wrong, each kind's watch says; one that fails keeps the others from nothing.
 */
@Component
public class SiteAlerts {
  private static final Logger LOG = LoggerFactory.getLogger(SiteAlerts.class);

  private final List<SiteWatch> watches;
  private final Engine engine;
  private final Alerts alerts;
  private final AlertWriter writer;
  private final Live live;
  private final Clock clock;

  SiteAlerts(
      List<SiteWatch> watches,
      Engine engine,
      Alerts alerts,
      AlertWriter writer,
      Live live,
      Clock clock) {
    this.watches = watches;
    this.engine = engine;
    this.alerts = alerts;
    this.writer = writer;
    this.live = live;
    this.clock = clock;
  }

  @Scheduled(fixedDelay = 5_000, initialDelay = 5_000)
  void lookAtAll() {
    for (SiteWatch watch : watches) {
      try {
        look(watch);
      } catch (RuntimeException e) {
        LOG.warn("cannot look after alerts of kind {}: {}", watch.kinds(), e.toString());
      }
    }
  }

  /** Brings the alerts of one watch in line with what it says. */
  public void look(SiteWatch watch) {
    if (!engine.isActive()) {
      return;
    }
    Optional<List<SiteTrouble>> wrong = watch.wrong();
    if (wrong.isPresent() && bringInLine(watch, wrong.get())) {
      live.alertsChanged();
    }
  }

  private boolean bringInLine(SiteWatch watch, List<SiteTrouble> wrong) {
    Map<String, SiteTrouble> troubles = new LinkedHashMap<>();
    wrong.forEach(one -> troubles.put(one.reference(), one));
    Set<String> told = new HashSet<>();
    boolean changed = false;
    for (AlertRow alert : alerts.openAbout(watch.kinds())) {
      if (!watch.looksAfter(alert.reference)) {
        continue;
      }
      SiteTrouble trouble = troubles.get(alert.reference);
      if (trouble == null || !told.add(alert.reference)) {
        String because = watch.because(alert.reference);
        changed |= alerts.close(alert.id, "", because, clock.instant());
      } else if (!alert.kind.equals(trouble.kind().word())) {
        changed |= writer.change(alert.id, trouble, engine.definitions(), clock.instant());
      }
    }
    for (SiteTrouble trouble : troubles.values()) {
      boolean opened =
          told.add(trouble.reference())
              && writer.open(trouble, engine.definitions(), clock.instant());
      if (opened) {
        LOG.warn("{}: {}", trouble.reference(), trouble.text());
        changed = true;
      }
    }
    return changed;
  }
}
