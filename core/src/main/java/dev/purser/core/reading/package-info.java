/**
 * Definition files: reading them with line and column. The JSON Schema comes from the same table of
 * keys.
 */
package dev.purser.core.reading;
