/** What the board is told, and what it instructs: facts, each answered for by visitors. */
package dev.purser.core.event;
