/** How Purser itself is: what an operator must know to trust it. */
package dev.purser.service.care;
