/** CSV as it comes in. */
package dev.purser.wire.csv;
