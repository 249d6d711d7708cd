/**
 * Kills services, agents and the database at random while a workload runs, and then compares the
 * records with the marks that every command has left.
 */
package dev.purser.bench.chaos;
