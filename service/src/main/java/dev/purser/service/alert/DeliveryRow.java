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
}
