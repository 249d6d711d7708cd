/** Keeps the alerts of what is wrong with the site in line. */
package dev.purser.service.trouble;
