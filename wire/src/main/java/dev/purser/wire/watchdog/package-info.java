/** Telling systemd that a program is alive. */
package dev.purser.wire.watchdog;
