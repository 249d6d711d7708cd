/** What an attempt is given: the placeholders of its texts, filled in just before it starts. */
package dev.purser.core.fill;
