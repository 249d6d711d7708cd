/** Calendars that come from outside, and people told before a calendar in use runs out. */
package dev.purser.service.calendar;
