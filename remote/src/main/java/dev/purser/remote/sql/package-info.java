/** Statements carried out in a database by JDBC: streamed, bounded, and stopped in the database. */
package dev.purser.remote.sql;
