/**
 * A job as its author means it: what it does, where, and what of it may go wrong. What kinds of
 * work there are, is told in {@code kind}; how a job is written, in {@code reading}.
 */
package dev.purser.core.job;
