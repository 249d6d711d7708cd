/**
 * The REST API under /api/v1. Controllers turn requests into questions and tasks and records into
 * views; they decide nothing.
 */
package dev.purser.service.api;
