/**
 * Small stand-ins for outside systems, for demo and tests only: a mail server and a webhook
 * receiver that show what came in, and a maker of history. None of it is part of the product.
 */
package dev.purser.outside;
