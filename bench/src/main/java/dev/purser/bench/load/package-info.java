/** A day's load pressed into minutes: many simulated agents that speak the real protocol. */
package dev.purser.bench.load;
