/**
 * Requests by HTTP to outside systems: signed in, bounded in time and size, told apart by whether
 * the other side can have done something.
 */
package dev.purser.remote.http;
