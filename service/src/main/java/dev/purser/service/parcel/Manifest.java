package dev.purser.service.parcel;

import java.time.Instant;
import java.util.List;

/**
 * The first entry of a parcel, as JSON.
 *
 * @param format of parcels; a service reads its own and older ones
 * @param needs the oldest Purser that understands what is in it
 * @param from the environment that it comes from
 * @param revision of the definitions there
 * @param contents one for each file, in order
 * @param expects what it uses and must be there already
 */
record Manifest(
    int format,
    String needs,
    String from,
    long revision,
    String packedBy,
    Instant packed,
    List<Content> contents,
    List<String> expects) {
  static final int FORMAT = 1;

  /** What this service understands, and what its parcels need to be understood. */
  static final String OWN_VERSION = "0.1.0";

  /**
   * One definition.
   *
   * @param file the entry of the parcel that holds it
   * @param sum SHA-256 of that entry, in hexadecimal
   */
  record Content(String kind, String name, String file, String sum) {}
}
