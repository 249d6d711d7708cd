package dev.purser.service;

import java.time.Clock;
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

  /** Starts it. */
  public static void main(String[] args) {
    SpringApplication.run(PurserService.class, args);
  }

  /** The only system clock. */
  @Bean
  Clock clock() {
    return Clock.systemUTC();
  }
}
