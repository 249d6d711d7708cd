/** What the business is promised: which jobs a commitment rests on, and when it is kept. */
package dev.purser.core.commitment;
