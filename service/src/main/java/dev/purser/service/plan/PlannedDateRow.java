package dev.purser.service.plan;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;

/** A business date whose plan has been made. */
@Entity
@Table(name = "planned_date")
class PlannedDateRow {
  @Id LocalDate businessDate;
  Instant plannedAt;
}
