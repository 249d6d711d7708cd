/**
 * The command line. Commands on files work by the core alone; all others ask the service's API and
 * print what it says.
 */
package dev.purser.client;
