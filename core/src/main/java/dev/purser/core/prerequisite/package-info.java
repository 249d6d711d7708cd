/**
 * What must be true before a run may start: the language, its canonical print, and the four answers
 * an expression can have. It knows names only; the board ties names to runs.
 */
package dev.purser.core.prerequisite;
