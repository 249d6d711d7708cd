package dev.purser.service;

import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;

/** A whole service on a real database, for the tests of its rooms; all of them share one. */
@SpringBootTest(webEnvironment = SpringBootTest.WebEnvironment.RANDOM_PORT)
public abstract class OnDatabase {
  @DynamicPropertySource
  static void database(DynamicPropertyRegistry registry) {
    registry.add("spring.datasource.url", TestDatabase::url);
    registry.add("spring.datasource.password", () -> "purser");
    registry.add("server.port", () -> "0");
    registry.add("purser.may-call", () -> "127.0.0.1"); // receivers that tests play
    registry.add("purser.secrets-key", SecretKeyFile::path);
  }
}
