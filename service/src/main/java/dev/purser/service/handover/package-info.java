/** What one shift tells the next. */
package dev.purser.service.handover;
