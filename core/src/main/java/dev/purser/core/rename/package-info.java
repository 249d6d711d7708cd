/** Other names for definitions, wherever they are named. */
package dev.purser.core.rename;
