package dev.purser.core.calendar;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.reading.SourceFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;

/** The calendars and periods that the tests of day rules share. */
public final class DayWorld {
  public static final Calendars CALENDARS = read("src/test/resources/days/world.yaml");

  private DayWorld() {}

  /** The calendars of a file. */
  public static Calendars read(String file) {
    try {
      return of(Files.readString(Path.of(file)));
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  /** The calendars of a text. */
  public static Calendars of(String yaml) {
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(),
            List.of(new SourceFile("calendars.yaml", yaml)),
            LocalDate.of(2027, 1, 1));
    if (!result.isSound()) {
      throw new IllegalArgumentException(result.problems().toString());
    }
    return result.definitions().calendars();
  }
}
