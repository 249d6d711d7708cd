/**
 * The trail of what people did: who, when, from where, what, about what, and why. It is only ever
 * added to.
 */
package dev.purser.service.audit;
