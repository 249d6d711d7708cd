/**
 * What service and agents say to each other over their WebSocket, a JSON array of messages a frame.
 * Instants are epoch milliseconds of the sender's clock.
 */
package dev.purser.wire.agent;
