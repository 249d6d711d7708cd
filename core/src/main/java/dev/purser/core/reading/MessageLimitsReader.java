package dev.purser.core.reading;

import dev.purser.core.alert.MessageLimits;

/** Reads how many messages there may be. */
final class MessageLimitsReader {
  private static final int MOST_MESSAGES = 100_000;

  private MessageLimitsReader() {}

  /**
   * Reads them.
   *
   * @param key where they stand; none where nothing does
   */
  static MessageLimits read(Page page, Fields fields, String key) {
    if (!fields.has(key)) {
      return MessageLimits.NONE;
    }
    Fields most = new Fields(page, fields.at(key), TellingKeys.LIMITS, "\"" + key + "\"");
    return new MessageLimits(
        most.number("an-hour", 1, MOST_MESSAGES).orElse(0),
        most.number("a-day", 1, MOST_MESSAGES).orElse(0),
        most.number("a-week", 1, MOST_MESSAGES).orElse(0),
        most.number("urgent-an-hour", 1, MOST_MESSAGES).orElse(0));
  }
}
