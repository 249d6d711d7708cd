/** A mail as a step: to whom, what it says, and what is attached. */
package dev.purser.core.mail;
