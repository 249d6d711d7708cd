/** Puts definitions in force. */
package dev.purser.service.publish;
