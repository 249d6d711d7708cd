/** Which alerts rules ask for, from what happens to runs. */
package dev.purser.core.alerting;
