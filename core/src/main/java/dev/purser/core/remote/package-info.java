/**
 * Remote services: how one is asked to do something, watched to its end and stopped. What is said
 * here is the description; {@code Pursuit} decides, from what was answered, what is done next. No
 * word goes over a wire here.
 */
package dev.purser.core.remote;
