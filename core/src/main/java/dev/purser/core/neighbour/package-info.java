/** Two environments held against each other. */
package dev.purser.core.neighbour;
