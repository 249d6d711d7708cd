/**
 * Other environments: what differs from here, what is on its way, and what is fetched from there.
 */
package dev.purser.service.neighbour;
