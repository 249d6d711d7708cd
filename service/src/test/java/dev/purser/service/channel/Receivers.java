package dev.purser.service.channel;

import dev.purser.service.Settings;
import dev.purser.service.alert.Message;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;

/** What the tests of channels have in common. */
final class Receivers {
  private Receivers() {}

  static Settings settings(String secrets, String mayCall) {
    return new Settings(
        ZoneId.of("Europe/Oslo"),
        0,
        Duration.ZERO,
        Duration.ZERO,
        0,
        Duration.ZERO,
        Duration.ZERO,
        Duration.ZERO,
        Duration.ZERO,
        "purser@brannoch.example",
        "",
        false,
        false,
        "https://purser.brannoch.example",
        Duration.ZERO,
        "",
        "",
        secrets,
        mayCall,
        32473);
  }

  static Message message(String title, Optional<String> thread) {
    return new Message(
        "alert-12-34",
        "alert",
        12,
        "opened",
        "failed",
        "urgent",
        title,
        "exit code 3 <b>&\nsecond line",
        "fuel/bunkering/sign@2027-03-04#1",
        77,
        "fuel/bunkering",
        "stream fuel/bunkering",
        Instant.parse("2027-03-04T03:00:00Z"),
        "https://purser.brannoch.example/runs/77",
        "purser why 'fuel/bunkering/sign@2027-03-04#1'",
        2,
        List.of("Sign (late): waits", "Thank \"the\" crew (late): waits"),
        "call the depot",
        thread,
        new Message.Of("fuel/bunkering/sign", "depot", "3", "Signing\nno key"),
        List.of("Sign: exit code 3 https://purser.brannoch.example/runs/77"));
  }
}
