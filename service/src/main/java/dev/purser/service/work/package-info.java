/**
 * Who carries out attempts: a worker for each kind of work, or several. What the board instructs is
 * handed to them once it is on record; what they say of it comes back as news.
 */
package dev.purser.service.work;
