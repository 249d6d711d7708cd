/**
 * What runs are tied to: prerequisites whose names have become indexes, steps and what is below
 * them. Knows how runs stand only through {@link dev.purser.core.tie.Facts}.
 */
package dev.purser.core.tie;
