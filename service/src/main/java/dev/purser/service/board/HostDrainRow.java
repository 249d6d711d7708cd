package dev.purser.service.board;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A host that takes no new work until it is returned. */
@Entity
@Table(name = "host_drain")
public class HostDrainRow {
  @Id public String host;
  public String note;
  public String who;
  public Instant since;
}
