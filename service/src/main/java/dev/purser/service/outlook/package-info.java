/**
 * Plays copies of the board ahead and keeps the answer at hand. Durations come from the records of
 * earlier runs.
 */
package dev.purser.service.outlook;
