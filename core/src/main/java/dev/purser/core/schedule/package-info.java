/**
 * When a stream starts on a day: local start times in a zone, turned into instants. Clock changes
 * are settled here and nowhere else.
 */
package dev.purser.core.schedule;
