/**
 * The program on every host: starts commands, keeps their output, watches files, and tells the
 * service. Every attempt is journalled, so that work outlives both the agent and the service.
 */
package dev.purser.agent;
