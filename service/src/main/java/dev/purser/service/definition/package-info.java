/** Published definitions, every revision of them. Publishing takes all files or none. */
package dev.purser.service.definition;
