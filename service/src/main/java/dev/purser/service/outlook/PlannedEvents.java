package dev.purser.service.outlook;

import dev.purser.core.event.BoardEvent;
import java.util.List;

/** What people have planned to happen, which forecasts take into account. */
public interface PlannedEvents {
  /** What is to come, in any order. */
  List<BoardEvent> coming();
}
