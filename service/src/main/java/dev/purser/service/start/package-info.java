/** What must be right before the service starts at all. */
package dev.purser.service.start;
