package dev.purser.service;

import dev.purser.service.board.Engine;
import java.util.concurrent.atomic.AtomicInteger;
import org.springframework.context.event.EventListener;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;

/** A listener of the tests' own that cannot take what it is told, where a test says so. */
@Component
public class Stumbling {
  /** How often it stumbles from now on. */
  public static final AtomicInteger TIMES = new AtomicInteger();

  @EventListener
  @Order(Ordered.HIGHEST_PRECEDENCE)
  void committed(Engine.Committed any) {
    if (TIMES.get() > 0) {
      TIMES.decrementAndGet();
      throw new IllegalStateException("it stumbles");
    }
  }
}
