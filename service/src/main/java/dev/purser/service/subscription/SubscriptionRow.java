package dev.purser.service.subscription;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.List;

/** A program that is told of what happens. */
@Entity
@Table(name = "subscription")
public class SubscriptionRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  /** With whose rights it is told. */
  public String owner;

  /** Names of topics, with commas between. */
  public String topics;

  public String department;
  public String stream;
  public String kind;
  public String address;

  /** How events are sent there, as a JSON object of texts. */
  public String options;

  public Instant made;

  /** {@code on} or {@code over}. */
  public String state;

  /** Why it is over. */
  public String note;

  /** The names of its topics. */
  public List<String> allTopics() {
    return List.of(topics.split(","));
  }

  Events.Wanted wanted() {
    return new Events.Wanted(department, stream, kind);
  }
}
