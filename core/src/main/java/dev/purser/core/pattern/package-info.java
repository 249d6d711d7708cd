/** Patterns of file names. */
package dev.purser.core.pattern;
