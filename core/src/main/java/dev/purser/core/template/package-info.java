/** Templates: definitions with parameters, filled as trees before anything of them is read. */
package dev.purser.core.template;
