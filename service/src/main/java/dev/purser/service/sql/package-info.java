/**
 * Statements in databases: carried out by threads of their own, on record before they begin, and
 * after a crash done again only where it is known that they were not committed.
 */
package dev.purser.service.sql;
