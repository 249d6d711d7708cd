/** What definitions say, and the immutable catalogue of them. */
package dev.purser.core.definition;
