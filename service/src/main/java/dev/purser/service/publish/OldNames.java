package dev.purser.service.publish;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.rename.Renaming;
import dev.purser.service.definition.RenamedRow;
import dev.purser.service.definition.Renames;
import java.util.ArrayList;
import java.util.List;
import org.springframework.stereotype.Component;

/**
 * Files that were written before something got another name: where they name it, the new name is
 * put; where they would define it anew beside itself, they are refused.
 */
@Component
class OldNames {
  private final Renames renames;

  OldNames(Renames renames) {
    this.renames = renames;
  }

  /**
   * The files with the names of today; themselves where they have no other.
   *
   * @param before what is in force
   * @throws NotUnderstood where they define something by a name that it has no more
   */
  List<SourceFile> brought(List<SourceFile> files, Definitions before) {
    List<RenamedRow> gone =
        renames.all().stream()
            .filter(row -> files.stream().anyMatch(file -> file.text().contains(row.oldName)))
            .filter(row -> isGone(row, before))
            .toList();
    if (gone.isEmpty()) {
      return files;
    }
    DefinitionReader.read(files).documents().forEach(one -> refuseOld(one, before));
    List<SourceFile> brought = files;
    for (RenamedRow row : gone) {
      brought = brought(brought, row); // each by itself: its marks are those of the text before it
    }
    return brought;
  }

  private boolean isGone(RenamedRow row, Definitions before) {
    Kind kind = Kind.of(row.kind).orElseThrow();
    return before.document(kind, row.oldName).isEmpty()
        && before.document(kind, renames.now(kind, row.oldName)).isPresent();
  }

  private List<SourceFile> brought(List<SourceFile> files, RenamedRow row) {
    Kind kind = Kind.of(row.kind).orElseThrow();
    Named old = new Named(kind, row.oldName);
    List<Document> documents = DefinitionReader.read(files).documents();
    List<SourceFile> brought = new ArrayList<>();
    for (SourceFile file : files) {
      String text = file.text();
      for (Document one : documents) {
        if (one.file().equals(file.name()) && one.text().contains(row.oldName)) {
          String now = Renaming.in(one, old, renames.now(kind, row.oldName));
          text = text.replace(one.text(), now);
        }
      }
      brought.add(text.equals(file.text()) ? file : new SourceFile(file.name(), text));
    }
    return brought;
  }

  private void refuseOld(Document one, Definitions before) {
    String now = renames.now(one.kind(), one.name());
    boolean isOld =
        !now.equals(one.name())
            && before.document(one.kind(), one.name()).isEmpty()
            && before.document(one.kind(), now).isPresent();
    if (isOld) {
      long since =
          renames.all().stream()
              .filter(row -> row.kind.equals(one.kind().word()) && row.newName.equals(now))
              .mapToLong(row -> row.revision)
              .max()
              .orElse(0);
      throw new NotUnderstood(
          one.kind().title()
              + " "
              + one.name()
              + " is called "
              + now
              + " since revision "
              + since
              + "; publish it by that name");
    }
  }
}
