/** Which secrets of the service's host connections may use, and for which addresses. */
package dev.purser.service.secret;
