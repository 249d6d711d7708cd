/** How true forecasts are: generated worlds whose laws are known, with days held out. */
package dev.purser.bench.truth;
