/** Trying a draft before it is live. */
package dev.purser.core.trial;
