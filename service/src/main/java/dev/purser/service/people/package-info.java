/**
 * Who may do what: people, roles, passwords, sessions and tokens. Nothing but health is open to
 * strangers.
 */
package dev.purser.service.people;
