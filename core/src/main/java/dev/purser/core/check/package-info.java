/** Definitions held against each other: names that must exist, circles, what can never happen. */
package dev.purser.core.check;
