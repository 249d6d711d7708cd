package dev.purser.core.arrival;

import java.time.LocalDate;
import java.util.Optional;

/**
 * A file that was found, and what has become of it. Immutable.
 *
 * @param id unique, rising in the order in which files were found
 * @param watch by which it was found
 * @param place where: a host or a connection
 * @param path the whole path
 * @param date the business date that its path names; empty where it names none
 * @param size in bytes
 * @param modified epoch milliseconds of the file system
 * @param key as in {@link FileFacts}
 * @param checksum SHA-256 in hexadecimal; empty where the content was not read
 * @param found when it was found, epoch milliseconds
 * @param ready when it was whole; 0 where it is not
 * @param since when it came into its state
 * @param run the run that has it; 0 for none
 * @param repeats the arrival whose name and content it has again; 0 for none
 * @param note why it is as it is; may be empty
 */
public record Arrival(
    long id,
    String watch,
    String place,
    String path,
    Optional<LocalDate> date,
    long size,
    long modified,
    String key,
    String checksum,
    long found,
    long ready,
    ArrivalState state,
    long since,
    long run,
    long repeats,
    String note) {

  /** The note of a file that somebody removed before a run had it. */
  static final String REMOVED = "was removed before use";

  /** The note of a file in whose place another was put before a run had it. */
  static final String REPLACED = "was replaced before use";

  /** The start of the note of a file whose path cannot be handed to a run. */
  static final String NAMELESS = "its name is not valid UTF-8 and cannot be handed on; rename it";

  /** The name, without the directory. */
  public String name() {
    return path.substring(path.lastIndexOf('/') + 1);
  }

  /**
   * Why no run can ever have it, whatever a person decides: it is not there any more, or its name
   * cannot be handed on. Empty where a run can.
   */
  public Optional<String> neverUsable() {
    boolean gone = note.equals(REMOVED) || note.equals(REPLACED);
    if (gone) {
      return Optional.of("it " + note);
    }
    return note.startsWith(NAMELESS) ? Optional.of(NAMELESS) : Optional.empty();
  }

  /** The note once it is put aside, which does not hide that it can never be used. */
  public String asideFor(String because) {
    return note.startsWith(NAMELESS) ? NAMELESS + "; " + because : because;
  }

  /**
   * The same in another state.
   *
   * @param because the new note; empty for none
   * @param at when it came into that state, epoch milliseconds
   */
  public Arrival in(ArrivalState next, String because, long at) {
    return new Arrival(
        id,
        watch,
        place,
        path,
        date,
        size,
        modified,
        key,
        checksum,
        found,
        next == ArrivalState.READY ? at : ready,
        next,
        next == state ? since : at,
        run,
        repeats,
        because);
  }

  /** The same, of a run. */
  public Arrival of(long itsRun) {
    return of(itsRun, Optional.empty());
  }

  /** The same, of a run and its business date, where its path names none. */
  Arrival of(long itsRun, Optional<LocalDate> itsDate) {
    return new Arrival(
        id,
        watch,
        place,
        path,
        date.or(() -> itsDate),
        size,
        modified,
        key,
        checksum,
        found,
        ready,
        state,
        since,
        itsRun,
        repeats,
        note);
  }

  /** The same as it looks now. */
  Arrival looks(Finding now) {
    return new Arrival(
        id,
        watch,
        place,
        path,
        date,
        now.size(),
        now.modified(),
        now.key(),
        now.checksum(),
        found,
        ready,
        state,
        since,
        run,
        repeats,
        note);
  }

  /** The same, known to have the content of an earlier one. */
  Arrival repeating(long earlier) {
    return new Arrival(
        id, watch, place, path, date, size, modified, key, checksum, found, ready, state, since,
        run, earlier, note);
  }

  boolean isOfSameContent(Finding finding) {
    return size == finding.size() && modified == finding.modified() && key.equals(finding.key());
  }
}
