/**
 * Benchmarks: what the machine can do at all, and what Purser does, in the same run. They print;
 * they assert nothing.
 */
package dev.purser.bench;
