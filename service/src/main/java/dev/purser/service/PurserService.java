package dev.purser.service;

import dev.purser.service.board.Engine;
import dev.purser.service.start.DatabaseCheck;
import dev.purser.wire.watchdog.Watchdog;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.context.properties.ConfigurationPropertiesScan;
import org.springframework.context.annotation.Bean;
import org.springframework.scheduling.annotation.EnableScheduling;

/** The service's program. */
@SpringBootApplication
@ConfigurationPropertiesScan
@EnableScheduling
public class PurserService {

  /**
   * Starts it; {@code --standby} lets another be the active one where it can, {@code --restored}
   * says that the records are those of a backup.
   */
  public static void main(String[] args) {
    SpringApplication program = new SpringApplication(PurserService.class);
    program.addListeners(new DatabaseCheck());
    List<String> words = new ArrayList<>(List.of(args));
    if (words.remove("--restored")) {
      words.add("--purser.restored=true");
    }
    if (words.remove("--standby")) {
      words.add("--purser.standby=true");
    }
    AtomicReference<Engine> engine = new AtomicReference<>();
    Watchdog.begin(() -> engine.get() == null || engine.get().isAlive()); // until then it starts
    engine.set(program.run(words.toArray(String[]::new)).getBean(Engine.class));
  }

  /** The only system clock. */
  @Bean
  Clock clock(Settings settings) {
    return Clock.offset(Clock.systemUTC(), settings.clockOffset());
  }
}
