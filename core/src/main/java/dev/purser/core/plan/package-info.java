/**
 * Which runs are due on a business date, and what a person calls them. Pure computation from
 * definitions and dates.
 */
package dev.purser.core.plan;
