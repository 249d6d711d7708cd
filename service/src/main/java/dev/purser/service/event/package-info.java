/** What has happened, by topic, in an order that never changes: for programs. */
package dev.purser.service.event;
