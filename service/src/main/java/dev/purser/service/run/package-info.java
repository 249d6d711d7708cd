/**
 * The records of runs, attempts, moments and arrivals: rows, and how they are read. Only the engine
 * writes them.
 */
package dev.purser.service.run;
