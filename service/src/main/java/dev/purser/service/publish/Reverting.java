package dev.purser.service.publish;

import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.edit.Copying;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.DefinitionRow;
import dev.purser.service.definition.RenamedRow;
import dev.purser.service.definition.Renames;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Works out what must be published so that definitions are again as they were. */
@Component
public class Reverting {
  private static final int MOST_NAMED = 6;

  private final DefinitionRecords records;
  private final Renames renames;

  Reverting(DefinitionRecords records, Renames renames) {
    this.records = records;
    this.renames = renames;
  }

  /** Something of a publication has changed since. */
  public static final class ChangedSince extends RuntimeException {
    private static final long serialVersionUID = 1L;

    ChangedSince(String message) {
      super(message);
    }
  }

  /**
   * The change that makes one definition as it was; one that is withdrawn comes back.
   *
   * @param revision at which it was as it is to be
   * @throws NotUnderstood where there was no such definition then, or a row of a table made it
   */
  public Publisher.Change of(Kind kind, String name, long revision) {
    DefinitionRow then =
        records
            .at(kind, name, revision)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "there was no "
                            + kind.title()
                            + " "
                            + name
                            + " at revision "
                            + revision
                            + "; purser versions "
                            + kind.word()
                            + " "
                            + name
                            + " lists those that there were"));
    if (!then.madeBy.isEmpty()) {
      throw new NotUnderstood(
          name
              + " is made by a row of for-each "
              + then.madeBy
              + "; revert that, or the template that it names");
    }
    if (then.withdrawn) {
      throw new NotUnderstood(
          kind.title()
              + " "
              + name
              + " was withdrawn at revision "
              + then.revision
              + "; withdraw it, or name an earlier revision");
    }
    return new Publisher.Change(
        List.of(new SourceFile(then.file, asNow(kind, then))),
        List.of(),
        "as it was at revision " + then.revision);
  }

  /** Its text with the names of today: its own, and those of others that were renamed since. */
  private String asNow(Kind kind, DefinitionRow then) {
    String now = renames.now(kind, then.name);
    String text = then.text;
    if (!now.equals(then.name)) {
      text =
          DefinitionReader.read(List.of(new SourceFile(then.file, text))).documents().stream()
              .findFirst()
              .map(document -> Copying.of(document, now))
              .orElse(text);
    }
    return text;
  }

  /**
   * The change that undoes a publication: what it changed is as it was before, what it added is
   * withdrawn, what it withdrew comes back.
   *
   * @param anyway leave alone what has changed since, instead of refusing
   * @throws NotUnderstood where there was no such publication
   * @throws ChangedSince where something of it has changed since
   */
  public Publisher.Change undoing(long revision, boolean anyway) {
    List<DefinitionRow> changed = records.of(revision);
    if (changed.isEmpty()) {
      throw new NotUnderstood(
          "there was no publication " + revision + "; purser publications lists them");
    }
    for (RenamedRow one : renames.of(revision)) {
      throw new NotUnderstood(
          "publication "
              + revision
              + " gave "
              + one.oldName
              + " another name; rename it back: purser rename "
              + one.kind
              + " "
              + one.newName
              + " "
              + one.oldName);
    }
    List<SourceFile> files = new ArrayList<>();
    List<Named> withdrawn = new ArrayList<>();
    List<String> since = new ArrayList<>();
    for (DefinitionRow row : changed) {
      if (!row.madeBy.isEmpty()) {
        continue; // comes and goes with its table
      }
      Kind kind = Kind.of(row.kind).orElseThrow();
      if (records.at(kind, row.name, Long.MAX_VALUE).orElseThrow().revision != revision) {
        since.add(row.kind + " " + row.name);
        continue;
      }
      Optional<DefinitionRow> before =
          records.at(kind, row.name, revision - 1).filter(one -> !one.withdrawn);
      if (before.isPresent()) {
        files.add(new SourceFile(before.get().file, before.get().text));
      } else {
        withdrawn.add(new Named(kind, row.name));
      }
    }
    if (!since.isEmpty() && !anyway) {
      throw new ChangedSince(
          Shorten.names(since, MOST_NAMED)
              + (since.size() == 1 ? " has" : " have")
              + " changed since publication "
              + revision
              + "; undo the later ones first, or undo the rest of it anyway (--anyway)");
    }
    return new Publisher.Change(files, withdrawn, "undoes publication " + revision);
  }
}
