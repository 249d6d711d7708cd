/** What people do, each with its entry in the audit trail, and what it would do. */
package dev.purser.service.action;
