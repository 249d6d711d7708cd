/**
 * The engine loop around the board: one writer, one transaction a batch, instructions only after
 * the commit. What it cannot write it holds until the database is back.
 */
package dev.purser.service.board;
