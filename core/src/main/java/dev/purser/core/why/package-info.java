/** Why a run is not running: the answer as a value, and who tells it from how things stand. */
package dev.purser.core.why;
