/** A run as a value: what was planned, how it stands, how it ended, what people can do to it. */
package dev.purser.core.run;
