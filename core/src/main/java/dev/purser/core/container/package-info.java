/** Work in containers of a cluster, as it is written. */
package dev.purser.core.container;
