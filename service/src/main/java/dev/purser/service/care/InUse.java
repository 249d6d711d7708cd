package dev.purser.service.care;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Stream;
import dev.purser.service.board.Engine;
import java.util.LinkedHashSet;
import java.util.Set;
import java.util.TreeSet;

/** Those who are told of alerts of streams. */
final class InUse {
  private InUse() {}

  /** The recipients whom streams name. */
  static Set<Recipient> recipients(Engine engine) {
    Definitions definitions = engine.definitions();
    Set<String> names = new TreeSet<>();
    for (Stream stream : definitions.streams()) {
      names.add(stream.owner());
      names.addAll(stream.alertsTo());
    }
    Set<Recipient> found = new LinkedHashSet<>();
    names.forEach(name -> definitions.recipient(name).ifPresent(found::add));
    return found;
  }
}
