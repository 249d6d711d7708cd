/** Mails as steps of streams, with what other runs have made. */
package dev.purser.service.mail;
