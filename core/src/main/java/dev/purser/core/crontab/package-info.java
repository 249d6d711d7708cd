/** Definitions made from a POSIX crontab. */
package dev.purser.core.crontab;
