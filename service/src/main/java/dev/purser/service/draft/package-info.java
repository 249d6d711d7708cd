/** Definitions that are not live yet. */
package dev.purser.service.draft;
