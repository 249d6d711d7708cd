/**
 * The kinds of work, a file each; they are listed in {@code
 * META-INF/services/dev.purser.core.reading.WorkKind}.
 */
package dev.purser.core.kind;
