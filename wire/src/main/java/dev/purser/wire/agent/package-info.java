/**
 * What service and agents say to each other over their WebSocket, one JSON object a message.
 * Instants are epoch milliseconds of the sender's clock.
 */
package dev.purser.wire.agent;
