/**
 * Changes definitions as texts, at the parser's marks: what a change does not concern stays as it
 * is.
 */
package dev.purser.core.edit;
