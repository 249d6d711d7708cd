/**
 * Statements in a database: read into single statements, with values that are bound, not spliced.
 */
package dev.purser.core.sql;
