package dev.purser.agent;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class AgentProgramTest {
  @ParameterizedTest
  @CsvSource({
    "http://127.0.0.1:8087,false",
    "http://localhost:8087,false",
    "http://[::1]:8087,false",
    "https://purser.example,false",
    "http://purser.example,true",
    "HTTP://10.0.0.7:8087,true"
  })
  void whatCanBeReadOnTheWayIsKnown(URI service, boolean canBeRead) {
    assertThat(AgentProgram.canBeRead(service)).isEqualTo(canBeRead);
  }
}
