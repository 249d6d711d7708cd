/** OpenPGP (RFC 9580): encrypting, signing, and what undoes it. */
package dev.purser.remote.pgp;
