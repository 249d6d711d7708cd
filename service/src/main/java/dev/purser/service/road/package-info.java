/** Roads through agents to what the service itself does not reach. */
package dev.purser.service.road;
