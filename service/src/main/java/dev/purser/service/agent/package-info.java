/**
 * The link to the agents: who may connect, what they say, what they are told. After a cut both
 * sides compare what they know.
 */
package dev.purser.service.agent;
