/**
 * Files that runs bring from one place to another, each on record, so that none is brought twice.
 */
package dev.purser.service.transfer;
