/** Times at which nobody is told of a scope, or a host is given no work. */
package dev.purser.service.maintenance;
