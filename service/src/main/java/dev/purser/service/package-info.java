/**
 * The service: keeps the records, drives the board with real events and carries its instructions
 * out. Nothing below it but this outermost layer reads the system clock.
 */
package dev.purser.service;
