/**
 * Splitting the small languages (day rules, prerequisites) into words that remember their column.
 * Both parsers read from it and complain through it.
 */
package dev.purser.core.phrase;
