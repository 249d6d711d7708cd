package dev.purser.service.start;

import java.util.Arrays;
import org.springframework.boot.flyway.autoconfigure.FlywayMigrationStrategy;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/**
 * Goes on with a change of the tables that a crash has cut off. MariaDB takes no such statement
 * back, so each script does nothing where it has been carried out already, from the seventh on.
 */
@Configuration
class GoingOn {
  @Bean
  static FlywayMigrationStrategy goOn() {
    return flyway -> {
      boolean cutOff =
          Arrays.stream(flyway.info().all()).anyMatch(one -> one.getState().isFailed());
      if (cutOff) {
        flyway.repair(); // forgets that one has failed, so that it is tried again
      }
      flyway.migrate();
    };
  }
}
