/**
 * What a change of definitions would do before it is made: fields that differ, and runs gained,
 * lost and moved, each with its reason.
 */
package dev.purser.core.preview;
