package dev.purser.service.agent;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.agent.FromAgent;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class HostSignsTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          8  | 16 | 90  | 200 | 0      |
          0.4| 16 | 90  | 200 | 0      | memory
          8  | 16 | 19  | 200 | 0      | disk
          8  | 16 | 90  | 200 | 2001   | clock
          8  | 16 | 90  | 200 | -2001  | clock
          0  | 16 | 0   | 200 | 99999  | clock disk memory
          -1 | -1 | -1  | -1  | 2000   |
          0  | 0  | 0   | 0   | 0      |
          """)
  void whatIsWrongWithAHostIsNamed(
      double memoryFree, double memory, double diskFree, double disk, long ahead, String what) {
    FromAgent.Machine machine =
        new FromAgent.Machine(
            4, 1, bytes(memoryFree), bytes(memory), bytes(diskFree), bytes(disk), 0);
    assertThat(String.join(" ", HostSigns.wrong(machine, ahead).keySet()))
        .isEqualTo(what == null ? "" : what);
  }

  private static long bytes(double gigabytes) {
    return gigabytes < 0 ? -1 : (long) (gigabytes * 1e9);
  }
}
