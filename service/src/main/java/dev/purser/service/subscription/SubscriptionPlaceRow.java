package dev.purser.service.subscription;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;

/** How far a subscription has come with a topic. */
@Entity
@Table(name = "subscription_place")
@IdClass(SubscriptionPlaceRow.Key.class)
public class SubscriptionPlaceRow {
  @Id public Long subscription;
  @Id public String topic;

  /** The last that has arrived, or was not wanted. */
  public long number;

  /** In vain, since something has arrived. */
  public int tries;

  public Instant nextTry;
  public String lastError;

  /** When something has arrived last; null for never. */
  public Instant delivered;

  /** What tells one from another. */
  public record Key(Long subscription, String topic) implements Serializable {}
}
