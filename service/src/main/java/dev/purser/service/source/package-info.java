/** Definitions that come from a version-control repository. */
package dev.purser.service.source;
