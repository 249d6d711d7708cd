/**
 * Remote services as they are described, and calls of them: how one is asked to do something,
 * looked at and stopped. No word goes over a wire here.
 */
package dev.purser.core.remote;
