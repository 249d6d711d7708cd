/** Runs of the past, as they are read from files and learned from. */
package dev.purser.core.history;
