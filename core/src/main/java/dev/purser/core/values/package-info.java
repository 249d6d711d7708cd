/** Values that work hands back. */
package dev.purser.core.values;
