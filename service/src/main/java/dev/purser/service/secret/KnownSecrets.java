package dev.purser.service.secret;

import dev.purser.core.definition.Connection;
import dev.purser.service.board.Engine;
import dev.purser.service.masking.SecretMask;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Tells the mask which secrets there are: those that are stored, and those of connections. */
@Component
public class KnownSecrets {
  private static final Logger LOG = LoggerFactory.getLogger(KnownSecrets.class);

  private final StoredSecrets stored;
  private final SecretPermits permits;
  private final Engine engine;
  private final SecretMask mask;

  KnownSecrets(StoredSecrets stored, SecretPermits permits, Engine engine, SecretMask mask) {
    this.stored = stored;
    this.permits = permits;
    this.engine = engine;
    this.mask = mask;
  }

  /** Takes in what is new; called after a change, and every few seconds for those of others. */
  @Scheduled(fixedDelay = 5_000)
  public void refresh() {
    List<String> all = new ArrayList<>();
    try {
      for (StoredSecretRow row : stored.all()) {
        add(() -> stored.open(row), all);
      }
      for (Connection connection : engine.definitions().connections()) {
        if (!connection.secret().isNone() && connection.secret().stored().isEmpty()) {
          add(() -> permits.secretOf(connection), all);
        }
      }
    } catch (RuntimeException e) {
      LOG.debug("secrets to be masked cannot be read now", e);
      return; // those that were known stay
    }
    mask.know(all);
  }

  @EventListener
  void onTakenUp(Engine.TakenUp taken) {
    refresh(); // before anything that was begun says more
  }

  private interface Read {
    String secret() throws IOException;
  }

  private static void add(Read read, List<String> all) {
    try {
      all.add(read.secret());
    } catch (IOException e) {
      LOG.debug("a secret cannot be read: {}", e.getMessage());
    }
  }
}
