/**
 * What is wrong with an input: where, what, and what would be right. Every reader of definitions
 * reports through it, so that all faces print the same message.
 */
package dev.purser.core.problem;
