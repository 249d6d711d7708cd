package dev.purser.service.transfer;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;

/** A file that a run brings elsewhere. */
@Entity
@Table(name = "transfer_file")
@IdClass(TransferFileRow.Key.class)
class TransferFileRow {
  static final String BEGUN = "begun";
  static final String THERE = "there";
  static final String DONE = "done";
  static final String SKIPPED = "skipped";

  @Id long run;
  @Id String name;
  long size;

  /** Epoch milliseconds, by the source. */
  long modified;

  String state;

  /** SHA-256 of what was brought; empty before. */
  String hash;

  /** Which it is. */
  record Key(long run, String name) implements Serializable {}
}
