/**
 * Files that are waited for: when one counts as whole, whose it is, and what has become of it.
 * Nothing here reads a file; whoever looks says what is seen.
 */
package dev.purser.core.arrival;
