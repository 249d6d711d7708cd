package dev.purser.service.secret;

import dev.purser.service.audit.AuditTrail;
import dev.purser.service.work.Attempt;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Puts in the audit trail which run used which secret: once for an attempt. */
@Component
public class SecretUses {
  private static final int REMEMBERED = 10_000;
  private static final AuditTrail.Actor SERVICE =
      new AuditTrail.Actor("purser", "the service itself");

  private final AuditTrail audit;
  private final Set<Use> told = Collections.newSetFromMap(new Recent());

  SecretUses(AuditTrail audit) {
    this.audit = audit;
  }

  /**
   * An attempt is about to use it.
   *
   * @param what such as {@code connection takings}
   */
  public void by(Attempt attempt, String what) {
    boolean fresh;
    synchronized (told) {
      fresh = told.add(new Use(attempt.id(), attempt.number(), what));
    }
    if (fresh) {
      audit.write(SERVICE, "use secret", attempt.run().run().reference().toString(), what);
    }
  }

  /** Which attempt used what. */
  private record Use(long run, int attempt, String what) {}

  /** The last of them. */
  private static final class Recent extends LinkedHashMap<Use, Boolean> {
    private static final long serialVersionUID = 1;

    @Override
    protected boolean removeEldestEntry(Map.Entry<Use, Boolean> eldest) {
      return size() > REMEMBERED;
    }
  }
}
