package dev.purser.core.calendar;

import java.time.Duration;

/**
 * Where a calendar's days are fetched from, as iCalendar.
 *
 * @param connection the name of the connection
 * @param path what is asked for there; empty for the connection's own address
 * @param every how often it is fetched anew
 */
public record CalendarSource(String connection, String path, Duration every) {}
