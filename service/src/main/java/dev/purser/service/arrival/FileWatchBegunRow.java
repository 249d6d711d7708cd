package dev.purser.service.arrival;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** Since when there is a watch. */
@Entity
@Table(name = "file_watch_begun")
class FileWatchBegunRow {
  @Id String watch;
  Instant since;
}
