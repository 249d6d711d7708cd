/**
 * What changes while a day goes by: runs, hosts, units, alarms, all in arrays by small indexes, so
 * that a copy is a copy of arrays. No rule is in here; only {@code board} changes it.
 */
package dev.purser.core.course;
