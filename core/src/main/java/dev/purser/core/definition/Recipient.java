package dev.purser.core.definition;

import dev.purser.core.alert.AlertKind;
import java.util.List;
import java.util.Set;

/**
 * Who is told, and how.
 *
 * @param mail addresses
 * @param webhook an address that takes CloudEvents by HTTP POST; empty for none
 * @param receives which kinds of alert
 */
public record Recipient(
    String name, String title, List<String> mail, String webhook, Set<AlertKind> receives) {
  /** Copies the collections. */
  public Recipient {
    mail = List.copyOf(mail);
    receives = Set.copyOf(receives);
  }
}
