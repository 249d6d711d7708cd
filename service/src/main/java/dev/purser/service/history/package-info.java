/** How long jobs have taken and what they handed back. */
package dev.purser.service.history;
