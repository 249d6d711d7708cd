/**
 * Named days: holiday calendars, business calendars built on them, and the day rules that pick from
 * them. A set of days is a bit set over a span of dates, so that rules combine as machine words.
 */
package dev.purser.core.calendar;
