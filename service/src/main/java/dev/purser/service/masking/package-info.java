/** Secrets are taken out of what is kept and shown. */
package dev.purser.service.masking;
