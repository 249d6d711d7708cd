/** Files that are brought from here to there. */
package dev.purser.core.transfer;
