package dev.purser.service.secret;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** Something that this site has done once and for all. */
@Entity
@Table(name = "site_mark")
class SiteMarkRow {
  @Id String name;
  Instant at;
}
