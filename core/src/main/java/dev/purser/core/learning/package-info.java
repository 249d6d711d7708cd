/**
 * What is learned from runs of the past: how long jobs take, on which days they take longer, how
 * slow days are slow together, how often they fail and when files come.
 */
package dev.purser.core.learning;
