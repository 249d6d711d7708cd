package dev.purser.service.board;

import org.springframework.boot.health.contributor.Health;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.stereotype.Component;

/** Whether the engine decides. */
@Component("engineHealthIndicator")
class EngineHealth implements HealthIndicator {
  private final Engine engine;

  EngineHealth(Engine engine) {
    this.engine = engine;
  }

  @Override
  public Health health() {
    if (!engine.isWell()) {
      return Health.down().build();
    }
    return engine.isActive() ? Health.up().build() : Health.outOfService().build();
  }
}
