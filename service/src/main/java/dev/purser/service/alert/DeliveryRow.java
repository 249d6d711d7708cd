package dev.purser.service.alert;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** One alert on its way to one recipient by one channel. */
@Entity
@Table(name = "delivery")
public class DeliveryRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public long alert;

  /** The step of the alert that this tells of; none in deliveries from before there were any. */
  public Long step;

  public String recipient;
  public String channel;
  public String address;
  public String state;
  public int tries;
  public Instant nextTry;
  public Instant delivered;
  public String lastError;

  /** {@code alert}, {@code digest} or {@code test}. */
  public String what;

  /** The first notice of the digest that it carries; 0 for none. */
  public long digest;

  /** What else its channel needs, as a JSON object of texts; null for nothing. */
  public String options;

  /** Word of an urgency. */
  public String urgency;

  /** When it was written; null in those of before. */
  public Instant written;

  /** What the receiver answered. */
  public String answer;
}
