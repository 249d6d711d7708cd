/**
 * Definition files: reading them with line and column, checking them against each other, and the
 * immutable catalogue of what they define. The JSON Schema comes from the same table of keys.
 */
package dev.purser.core.definition;
