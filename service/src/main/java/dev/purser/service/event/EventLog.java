package dev.purser.service.event;

import java.util.List;

/** The events of one topic, as they are on record. A new topic is a class of its own. */
public interface EventLog {
  /** Its name. */
  String topic();

  /** The highest number that is on record; 0 for none. */
  long newest();

  /**
   * Those of a range of numbers, in order.
   *
   * @param after not included
   * @param to included
   */
  List<Event> between(long after, long to, int most);
}
