/** Programs that are told of what happens, at an address of theirs. */
package dev.purser.service.subscription;
