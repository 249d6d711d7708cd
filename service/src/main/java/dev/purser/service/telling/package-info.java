/** Who is told of what, and what rules do: decided beside the engine, from what is on record. */
package dev.purser.service.telling;
