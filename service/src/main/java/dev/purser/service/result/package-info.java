/** Results: rows that queries of runs gave, kept with their runs, written and read in pieces. */
package dev.purser.service.result;
