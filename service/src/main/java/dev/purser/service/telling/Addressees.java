package dev.purser.service.telling;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Duty;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Way;
import dev.purser.service.people.PersonRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** Who is reached by a name at a moment: itself, its members, whoever has the duty. */
final class Addressees {
  private final Definitions definitions;
  private final Function<String, Optional<PersonRow>> people;
  private final Instant now;
  private final List<Reached> reached = new ArrayList<>();
  private final Set<String> seen = new HashSet<>();

  /**
   * Somebody.
   *
   * @param byWayOf of whom it is a member, or has the duty; empty for none
   * @param recipient empty for a person
   * @param ways how it is reached; empty where it is not
   * @param note why it is not reached; empty where it is
   */
  record Reached(
      String name, String byWayOf, Optional<Recipient> recipient, List<Way> ways, String note) {}

  private Addressees(
      Definitions definitions, Function<String, Optional<PersonRow>> people, Instant now) {
    this.definitions = definitions;
    this.people = people;
    this.now = now;
  }

  /**
   * All who are reached, each once.
   *
   * @param kind of alert; who does not receive it, and whoever hangs on those, is not reached.
   *     Empty for a test, which all receive
   * @param people the people that there are, by name
   */
  static List<Reached> of(
      String name,
      Optional<AlertKind> kind,
      Definitions definitions,
      Function<String, Optional<PersonRow>> people,
      Instant now) {
    Addressees all = new Addressees(definitions, people, now);
    all.add(name, "", kind);
    return all.reached;
  }

  private void add(String name, String byWayOf, Optional<AlertKind> kind) {
    if (!seen.add(name)) {
      return;
    }
    Optional<Duty> duty = definitions.duty(name);
    Optional<Recipient> recipient = definitions.recipient(name);
    if (duty.isPresent()) {
      List<String> who = duty.get().at(now, definitions.calendarsOf(duty.get()));
      if (who.isEmpty()) {
        lost(name, byWayOf, "nobody is on duty");
      }
      who.forEach(one -> add(one, name, kind));
    } else if (name.startsWith(Recipient.PERSON)) {
      person(name, byWayOf);
    } else if (recipient.isEmpty()) {
      lost(name, byWayOf, "is not defined any more");
    } else if (kind.filter(one -> !recipient.get().receives().contains(one)).isPresent()) {
      lost(name, byWayOf, "does not receive " + kind.get().word());
    } else {
      if (!recipient.get().ways().isEmpty() || recipient.get().members().isEmpty()) {
        boolean none = recipient.get().ways().isEmpty();
        String note = none ? "has no way by which it is reached" : "";
        reached.add(new Reached(name, byWayOf, recipient, recipient.get().ways(), note));
      }
      recipient.get().members().forEach(one -> add(one, name, kind));
    }
  }

  private void person(String name, String byWayOf) {
    Optional<PersonRow> person = people.apply(name.substring(Recipient.PERSON.length()));
    if (person.isEmpty()) {
      lost(name, byWayOf, "there is no such person");
    } else if (person.get().locked) {
      lost(name, byWayOf, "is locked");
    } else if (person.get().mail.isEmpty()) {
      lost(name, byWayOf, "has no mail address");
    } else {
      List<Way> mail = List.of(new Way("mail", person.get().mail, Map.of()));
      reached.add(new Reached(name, byWayOf, Optional.empty(), mail, ""));
    }
  }

  private void lost(String name, String byWayOf, String note) {
    reached.add(new Reached(name, byWayOf, Optional.empty(), List.of(), note));
  }
}
