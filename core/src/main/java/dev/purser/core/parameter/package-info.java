/**
 * Placeholders in commands, such as the business date a month ago in a pattern of one's own. They
 * are checked when a definition is read and filled in when an attempt starts.
 */
package dev.purser.core.parameter;
