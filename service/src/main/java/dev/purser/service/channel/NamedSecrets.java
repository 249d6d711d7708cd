package dev.purser.service.channel;

import dev.purser.core.reading.Fields;
import dev.purser.service.Settings;
import dev.purser.service.alert.Channel;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.springframework.stereotype.Component;

/** Secrets by name: files of one directory that only an administrator of the machine writes. */
@Component
class NamedSecrets {
  private static final int LONGEST = 4_096;

  private final String directory;

  NamedSecrets(Settings settings) {
    this.directory = settings.secretsDirectory();
  }

  /** The secret of a name, without the line end after it. Never put it into a message. */
  String of(String name) throws Channel.DeliveryFailed {
    if (directory.isBlank()) {
      throw new Channel.DeliveryFailed(
          "the secret \"" + name + "\" cannot be read: PURSER_SECRETS names no directory", null);
    }
    Path file = Path.of(directory).resolve(Fields.isName(name) ? name : "-");
    try {
      if (Files.size(file) > LONGEST) {
        throw new Channel.DeliveryFailed("the secret \"" + name + "\" is too long", null);
      }
      String text = Files.readString(file, StandardCharsets.UTF_8).stripTrailing();
      if (text.isEmpty()) {
        throw new Channel.DeliveryFailed("the secret \"" + name + "\" is empty", null);
      }
      return text;
    } catch (IOException e) {
      throw new Channel.DeliveryFailed(
          "the secret \"" + name + "\" cannot be read from the directory of secrets", null);
    }
  }
}
