/** Connections as people see and try them; a kind of connection is tried in a file of its own. */
package dev.purser.service.connection;
