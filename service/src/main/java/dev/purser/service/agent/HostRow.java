package dev.purser.service.agent;

import dev.purser.wire.agent.FromAgent;
import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A host whose agent is enrolled. */
@Entity
@Table(name = "host")
public class HostRow {
  @Id public String name;

  @JdbcTypeCode(SqlTypes.CHAR)
  @Column(length = 64)
  public String keyHash;

  public Instant enrolled;
  public Instant lastSeen;
  public String version;
  public String labels;
  public long clockDifference;
  public int cores;
  public double loadAverage;
  public long memoryFree;
  public long memory;
  public long diskFree;
  public long disk;

  void put(FromAgent.Machine machine) {
    cores = machine.cores();
    loadAverage = machine.load();
    memoryFree = machine.memoryFree();
    memory = machine.memory();
    diskFree = machine.diskFree();
    disk = machine.disk();
  }

  /** How it was when it was last heard of. */
  public FromAgent.Machine machine() {
    return new FromAgent.Machine(cores, loadAverage, memoryFree, memory, diskFree, disk, 0);
  }
}
