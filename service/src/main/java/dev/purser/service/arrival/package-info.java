/**
 * File watches and arrivals: what is looked for where, what was found, who has it, and what people
 * are told of it. The decisions are in {@code core.arrival}; here are the records, the places and
 * the part that they have in the engine's turn.
 */
package dev.purser.service.arrival;
