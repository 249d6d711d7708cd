package dev.purser.wire.api;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/**
 * A run as people see it. Where nothing is to say, a text is empty and an instant null.
 *
 * @param id unique for ever
 * @param reference what people type
 * @param kind of its work: {@code command}, {@code parts}, {@code approval}, {@code stream}, or
 *     that of another kind of work
 * @param shape what it is made of: {@code attempts}, {@code runs} (below it) or {@code question}
 * @param shift what a clock change did to the start time: empty, {@code skipped} or {@code twice}
 * @param host where its last attempt is or was: the host, {@code in the service}, or empty
 * @param hold by whom and why it is held, itself or with what it belongs to
 * @param since when it came into its state
 * @param alerts open alerts, by kind
 * @param actions what can be done to it now
 * @param expectedStart likely start, from the forecast
 * @param expectedEnd likely end
 * @param latestEnd one time in ten it ends later
 * @param chanceLate of missing its finish-by, 0 to 1; null where it has none
 * @param priority who comes first where capacity is short, 0 to 100
 * @param tags words that people find it by
 * @param hangsOnPerson whether it waits, and a person must do something first
 * @param ifAnswered whether its likely times hold only if people answer as they usually do
 * @param sentence how it stands, in one sentence
 */
public record RunView(
    long id,
    String reference,
    String stream,
    String streamTitle,
    String department,
    String job,
    String title,
    String kind,
    String shape,
    LocalDate date,
    int number,
    String state,
    String hold,
    Instant since,
    Instant due,
    String shift,
    String zone,
    Instant startBy,
    Instant finishBy,
    Instant started,
    Instant ended,
    String host,
    int attempts,
    Integer exitCode,
    String note,
    List<String> alerts,
    List<String> actions,
    Instant expectedStart,
    Instant expectedEnd,
    Instant latestEnd,
    Double chanceLate,
    int priority,
    List<String> tags,
    boolean hangsOnPerson,
    boolean ifAnswered,
    String sentence) {}
