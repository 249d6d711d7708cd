/**
 * Driving a copy of the board on a simulated clock: rehearsals of one date and outlooks over many.
 * Durations come from history, from definitions, or from a file.
 */
package dev.purser.core.forecast;
