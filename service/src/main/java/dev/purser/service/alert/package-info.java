/**
 * Alerts as records with a life, and their delivery by mail and webhook. Delivery keeps its own
 * pace and tries again until it succeeds.
 */
package dev.purser.service.alert;
