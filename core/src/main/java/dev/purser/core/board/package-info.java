/**
 * The engine: one deterministic object that takes events and returns instructions. Live work,
 * rehearsal and forecast all drive this same object.
 */
package dev.purser.core.board;
