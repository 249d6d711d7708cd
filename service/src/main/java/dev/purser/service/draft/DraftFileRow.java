package dev.purser.service.draft;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;

/** A file of a draft. */
@Entity
@Table(name = "draft_file")
class DraftFileRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  Long id;

  long draft;
  int position;
  String name;
  String text;
}
