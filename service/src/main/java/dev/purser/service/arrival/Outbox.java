package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;

/** What of files has to be told to whoever looks, once it is on record. */
sealed interface Outbox {
  /** Nothing more need be told of a file. */
  record Done(Arrival arrival) implements Outbox {}

  /** A file was used and is to be moved or removed. */
  record Tidy(Arrival arrival) implements Outbox {}
}
