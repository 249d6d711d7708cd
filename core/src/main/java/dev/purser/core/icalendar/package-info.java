/**
 * Calendars and runs as iCalendar (RFC 5545), read and written through a library: what people's own
 * calendar programs give and take.
 */
package dev.purser.core.icalendar;
