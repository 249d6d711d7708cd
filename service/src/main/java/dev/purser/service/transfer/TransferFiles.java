package dev.purser.service.transfer;

import dev.purser.remote.place.RemotePlace.RemoteFile;
import jakarta.persistence.EntityManager;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Which files runs bring elsewhere, and how far each has come. */
@Component
class TransferFiles {
  private final EntityManager rows;

  TransferFiles(EntityManager rows) {
    this.rows = rows;
  }

  /** Those of a run, by name. */
  @Transactional(readOnly = true)
  public List<TransferFileRow> of(long run) {
    return rows.createQuery(
            "from TransferFileRow f where f.run = :run order by f.name", TransferFileRow.class)
        .setParameter("run", run)
        .getResultList();
  }

  /** Puts on record that a file is brought; one that has changed is brought anew. */
  @Transactional
  public TransferFileRow begin(long run, RemoteFile file) {
    TransferFileRow known = rows.find(TransferFileRow.class, key(run, file.name()));
    TransferFileRow row = known == null ? new TransferFileRow() : known;
    if (known == null || known.size != file.size() || known.modified != file.modified()) {
      row.run = run;
      row.name = file.name();
      row.size = file.size();
      row.modified = file.modified();
      row.state = TransferFileRow.BEGUN;
      row.hash = "";
    }
    if (known == null) {
      rows.persist(row);
    }
    return row;
  }

  private static TransferFileRow.Key key(long run, String name) {
    return new TransferFileRow.Key(run, name);
  }

  /** Puts on record how far one has come. */
  @Transactional
  public void set(long run, String name, String state, String hash) {
    TransferFileRow row = rows.find(TransferFileRow.class, key(run, name));
    if (row != null) {
      row.state = state;
      row.hash = hash;
    }
  }
}
