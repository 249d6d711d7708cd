/**
 * Tells open consoles and clients that something has changed, by Server-Sent Events. It says what
 * changed; the API says how it is now.
 */
package dev.purser.service.live;
