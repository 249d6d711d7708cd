/**
 * What the REST API takes and gives, for the service and its clients. Instants are UTC, business
 * dates are plain dates, durations are ISO 8601.
 */
package dev.purser.wire.api;
