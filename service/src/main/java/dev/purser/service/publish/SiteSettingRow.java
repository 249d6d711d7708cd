package dev.purser.service.publish;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** Something that administrators set for the whole site. */
@Entity
@Table(name = "site_setting")
class SiteSettingRow {
  @Id String name;
  String value;
  Instant changed;
  String changedBy;
}
