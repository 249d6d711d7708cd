/** Whether this service is the one that decides. */
package dev.purser.service.active;
