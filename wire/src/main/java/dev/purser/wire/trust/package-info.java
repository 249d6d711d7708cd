/** Whom a program of ours trusts on the other end of the wire. */
package dev.purser.wire.trust;
