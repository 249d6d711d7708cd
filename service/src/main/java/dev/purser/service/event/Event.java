package dev.purser.service.event;

import java.time.Instant;
import java.util.Map;

/**
 * Something that has happened.
 *
 * @param number its place among those of its topic; whoever goes on after it misses nothing
 * @param type what has happened, such as {@code run.succeeded}
 * @param subject what it has happened to, such as a run's reference
 * @param stream path of the stream that it belongs to; empty for none
 * @param department where that is known without a stream; else empty
 * @param kind of an alert, or the state of a run or file
 * @param data more of it, by name
 */
public record Event(
    String topic,
    long number,
    Instant at,
    String type,
    String subject,
    String stream,
    String department,
    String kind,
    Map<String, Object> data) {}
