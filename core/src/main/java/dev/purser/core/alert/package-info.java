/** The kinds of alerts, and what they are about. */
package dev.purser.core.alert;
