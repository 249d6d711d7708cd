/**
 * How far an attempt at a remote service has come, and what is done next: decided here from what
 * was answered, so that nothing is begun twice and no end is taken for granted.
 */
package dev.purser.core.pursuit;
