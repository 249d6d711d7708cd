/**
 * Attempts at remote services: asked, followed and stopped by a few threads, however many there
 * are; each is on record before it is asked, and goes on from there after a crash.
 */
package dev.purser.service.call;
