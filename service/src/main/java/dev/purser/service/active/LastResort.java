package dev.purser.service.active;

import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Ends the process where it can do its work no more: one that looks alive and decides nothing is
 * worse than none. systemd starts it again, or another service takes over; what is on record is
 * gone on with.
 */
@Component
public class LastResort {
  /** The exit code: a fault of the program, after which it is started again. */
  public static final int EXIT_CODE = 70;

  private static final Logger LOG = LoggerFactory.getLogger(LastResort.class);

  /**
   * Ends the process at once, without letting anything run to its end: it might wait for ever.
   *
   * @param why what cannot go on, as a sentence without a full stop
   */
  public void end(String why, Throwable cause) {
    try {
      LOG.error("{}; this process ends, to be started again", why, cause);
    } finally {
      Runtime.getRuntime().halt(EXIT_CODE);
    }
  }
}
