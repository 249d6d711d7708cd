package dev.purser.service.trouble;

import dev.purser.core.alert.AlertKind;
import dev.purser.service.alert.ServiceTroubles;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Tells people of all that is wrong with the service itself. */
@Component
class ServiceWatch implements SiteWatch {
  private final List<ServiceTroubles> all;

  ServiceWatch(List<ServiceTroubles> all) {
    this.all = all;
  }

  @Override
  public Set<AlertKind> kinds() {
    return Set.of(AlertKind.SERVICE);
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    return Optional.of(all.stream().flatMap(one -> one.wrong().stream()).toList());
  }
}
