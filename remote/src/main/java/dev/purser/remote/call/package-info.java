/**
 * What is asked of remote services and what they answer, over HTTP: requests filled in, answers
 * read. What is done with an answer is decided in {@code dev.purser.core.remote}.
 */
package dev.purser.remote.call;
