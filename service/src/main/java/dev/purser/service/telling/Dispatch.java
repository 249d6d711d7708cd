package dev.purser.service.telling;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.Urgency;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Way;
import dev.purser.core.problem.Shorten;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertStepRow;
import dev.purser.service.alert.DeliveryRow;
import dev.purser.service.alert.NoticeRow;
import dev.purser.service.alert.TellingRow;
import dev.purser.service.maintenance.MaintenanceRow;
import dev.purser.service.people.PersonRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.hibernate.StatelessSession;
import tools.jackson.databind.json.JsonMapper;

/** Decides of notices who gets what: now, later with others, or with what it comes of. */
final class Dispatch {
  private static final String MUTED = "muted ";
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private final StatelessSession session;
  private final Definitions definitions;
  private final Function<String, Optional<PersonRow>> people;
  private final Instant now;
  private final Muting muting;
  private final Room room;
  private final Map<Long, AlertRow> alerts = new HashMap<>();
  private final Map<Long, TellingRow> tellings = new HashMap<>();
  private final Map<Long, AlertStepRow> steps = new HashMap<>();

  /** Who is told of what in this batch: alert and name, with how urgent it was. */
  private final Map<String, Urgency> told = new HashMap<>();

  private final Set<String> done = new HashSet<>();

  /** Those of one note are put down at once: of a storm there are a thousand. */
  private final Map<String, List<Long>> folded = new LinkedHashMap<>();

  Dispatch(
      StatelessSession session,
      Definitions definitions,
      Function<String, Optional<PersonRow>> people,
      Instant now) {
    this.session = session;
    this.definitions = definitions;
    this.people = people;
    this.now = now;
    this.muting = Muting.at(now, definitions, session);
    this.room = new Room(session, definitions, now);
  }

  /**
   * Tells what is due. What others are part of comes first: whoever is told of it knows of them.
   */
  void tell(List<NoticeRow> due) {
    read(due);
    List<NoticeRow> parts = new ArrayList<>();
    for (NoticeRow notice : due) {
      if (telling(notice.alert).partOf == 0) {
        tell(notice);
      } else {
        parts.add(notice);
      }
    }
    parts.forEach(this::tell);
    folded.forEach((note, ids) -> settle(ids, NoticeRow.DUE, NoticeRow.FOLDED, note));
    folded.clear();
  }

  /** Reads at once what is needed of a batch: a storm would be thousands of questions. */
  private void read(List<NoticeRow> notices) {
    if (notices.isEmpty()) {
      return;
    }
    Set<Long> ids = notices.stream().map(one -> one.alert).collect(Collectors.toSet());
    session
        .createSelectionQuery("from AlertRow a where a.id in :ids", AlertRow.class)
        .setParameter("ids", ids)
        .getResultList()
        .forEach(row -> alerts.put(row.id, row));
    session
        .createSelectionQuery("from TellingRow t where t.alert in :ids", TellingRow.class)
        .setParameter("ids", ids)
        .getResultList()
        .forEach(row -> tellings.put(row.alert, row));
    session
        .createSelectionQuery("from AlertStepRow s where s.id in :ids", AlertStepRow.class)
        .setParameter("ids", notices.stream().map(one -> one.step).collect(Collectors.toSet()))
        .getResultList()
        .forEach(row -> steps.put(row.id, row));
  }

  private AlertRow alert(long id) {
    return alerts.computeIfAbsent(id, any -> session.get(AlertRow.class, id));
  }

  private TellingRow telling(long id) {
    return tellings.computeIfAbsent(id, any -> session.get(TellingRow.class, id));
  }

  private AlertStepRow step(long id) {
    return steps.computeIfAbsent(id, any -> session.get(AlertStepRow.class, id));
  }

  private void tell(NoticeRow notice) {
    AlertRow alert = alert(notice.alert);
    boolean again = notice.why.equals("reminder") || notice.why.equals("escalation");
    if (again && (alert.closed != null || alert.acknowledged != null)) {
      settle(notice, NoticeRow.DROPPED, "it was taken on or closed in the meantime");
      return;
    }
    Optional<AlertKind> kind = AlertKind.of(step(notice.step).kind);
    List<Addressees.Reached> all = Addressees.of(notice.name, kind, definitions, people, now);
    boolean toMembers = notice.why.equals("rule") || notice.why.equals("escalation");
    boolean itself = false;
    for (Addressees.Reached one : all) {
      if (!toMembers && !one.name().equals(notice.name)) {
        continue; // they have a notice of their own where they were told before
      }
      if (one.name().equals(notice.name)) {
        itself = true;
        tell(notice, one);
      } else {
        NoticeRow member = NoticeRow.of(step(notice.step), one.name(), notice.why, notice.urgency);
        member.at = notice.at;
        member.byWayOf = one.byWayOf();
        session.insert(member);
        tell(member, one);
      }
    }
    if (!itself) {
      settle(
          notice,
          NoticeRow.DROPPED,
          "by way of it: "
              + String.join(", ", all.stream().map(Addressees.Reached::name).toList()));
    }
  }

  private void tell(NoticeRow notice, Addressees.Reached who) {
    TellingRow telling = telling(notice.alert);
    Urgency urgency = Urgency.of(notice.urgency).orElse(Urgency.WARNING);
    Optional<MaintenanceRow> mute = muting.of(alert(notice.alert));
    if (!who.note().isEmpty()) {
      settle(notice, NoticeRow.DROPPED, who.note());
    } else if (mute.isPresent()) {
      keep(notice, mute.get().ends, muted(mute.get()));
    } else if (!done.add(notice.step + " " + notice.name)) {
      settle(notice, NoticeRow.DROPPED, "told already, in another way");
    } else if (isFolded(notice, telling, urgency)) {
      String note = "told with alert " + telling.partOf;
      folded.computeIfAbsent(note, any -> new ArrayList<>()).add(notice.id);
    } else if (!waits(notice, who, urgency)) {
      send(notice, who.ways(), "alert", 0);
      settle(notice, NoticeRow.TOLD, "");
      if (!notice.why.equals("over")) {
        telling.toldAt = now;
        telling.partsTold = telling.parts;
        session.update(telling);
      }
    }
  }

  /** Whether it waits for the end of a quiet time, or until there is room; then it is kept. */
  private boolean waits(NoticeRow notice, Addressees.Reached who, Urgency urgency) {
    Optional<Recipient> recipient = who.recipient();
    Optional<Instant> quiet = recipient.flatMap(one -> one.quietUntil(now, urgency));
    if (quiet.isPresent()) {
      keep(notice, quiet.get(), "quiet time");
      return true;
    }
    Optional<Room.Later> later = room.until(who, urgency == Urgency.URGENT);
    later.ifPresent(one -> keep(notice, one.at(), one.why()));
    return later.isPresent();
  }

  /** What is muted waits until that is over; the mark says for which. */
  private static String muted(MaintenanceRow mute) {
    return MUTED
        + "("
        + mute.id
        + ") with "
        + mute.about()
        + " by "
        + mute.who
        + ": "
        + Shorten.text(mute.reason, 200);
  }

  private void settle(NoticeRow notice, String state, String note) {
    settle(List.of(notice.id), notice.state, state, note);
    notice.state = state;
    notice.note = note;
    if (state.equals(NoticeRow.TOLD)) {
      remember(notice);
    }
  }

  private void settle(List<Long> ids, String before, String state, String note) {
    int mine =
        session
            .createMutationQuery(
                "update NoticeRow n set n.state = :state, n.note = :note where n.id in :ids and"
                    + " n.state = :before")
            .setParameter("state", state)
            .setParameter("note", Shorten.text(note, 500))
            .setParameter("ids", ids)
            .setParameter("before", before)
            .executeUpdate();
    if (mine != ids.size()) {
      throw new Overtaken();
    }
  }

  private void keep(NoticeRow notice, Instant until, String why) {
    session
        .createMutationQuery("update NoticeRow n set n.due = :due where n.id = :id")
        .setParameter("due", until)
        .setParameter("id", notice.id)
        .executeUpdate();
    settle(notice, NoticeRow.WAITS, why);
    remember(notice);
  }

  private void remember(NoticeRow notice) {
    Urgency urgency = Urgency.of(notice.urgency).orElse(Urgency.WARNING);
    told.merge(notice.alert + " " + notice.name, urgency, (a, b) -> a.compareTo(b) > 0 ? a : b);
  }

  /** Whether somebody knows of what it comes of, and that was no less urgent. */
  private boolean isFolded(NoticeRow notice, TellingRow telling, Urgency urgency) {
    if (telling.partOf == 0 || !notice.why.equals("rule")) {
      return false;
    }
    Urgency here = told.get(telling.partOf + " " + notice.name);
    if (here != null && here.compareTo(urgency) >= 0) {
      return true;
    }
    AlertRow head = alert(telling.partOf);
    return head != null
        && (head.closed == null || isToldOnly(head))
        && session
            .createSelectionQuery(
                "select n.urgency from NoticeRow n where n.alert = :head and n.name = :name and"
                    + " n.state in ('told', 'waits')",
                String.class)
            .setParameter("head", telling.partOf)
            .setParameter("name", notice.name)
            .getResultList()
            .stream()
            .flatMap(word -> Urgency.of(word).stream())
            .anyMatch(one -> one.compareTo(urgency) >= 0);
  }

  /** It was closed as it was opened, and says nothing about whether people know of it. */
  static boolean isToldOnly(AlertRow alert) {
    return AlertKind.of(alert.kind).filter(AlertKind::isToldOnly).isPresent();
  }

  /** Another service has become the active one, and has looked after it. */
  static final class Overtaken extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Overtaken() {
      super("another service has told it");
    }
  }

  // ---- later

  /** Tells what has waited, all of one name together; where it must wait on, it does. */
  void tellTogether(List<NoticeRow> back) {
    Map<String, List<NoticeRow>> byName = new LinkedHashMap<>();
    back.forEach(one -> byName.computeIfAbsent(one.name, any -> new ArrayList<>()).add(one));
    byName.forEach(this::tellTogether);
  }

  /** Of what was muted only that is told that is still open. */
  private List<NoticeRow> stillToTell(List<NoticeRow> notices) {
    List<NoticeRow> left = new ArrayList<>();
    for (NoticeRow one : notices) {
      AlertRow alert = alert(one.alert);
      Optional<MaintenanceRow> mute = alert == null ? Optional.empty() : muting.of(alert);
      if (alert == null || (one.note.startsWith(MUTED) && alert.closed != null)) {
        settle(one, NoticeRow.DROPPED, "it was over before it could be told; " + one.note);
      } else if (mute.isPresent()) {
        keep(one, mute.get().ends, muted(mute.get()));
      } else {
        left.add(one);
      }
    }
    return left;
  }

  private void tellTogether(String name, List<NoticeRow> waiting) {
    List<NoticeRow> notices = stillToTell(waiting);
    if (notices.isEmpty()) {
      return;
    }
    Addressees.Reached who =
        Addressees.of(name, Optional.empty(), definitions, people, now).stream()
            .filter(one -> one.name().equals(name))
            .findFirst()
            .orElse(new Addressees.Reached(name, "", Optional.empty(), List.of(), "has gone"));
    boolean urgent = notices.stream().anyMatch(one -> one.urgency.equals("urgent"));
    Optional<Instant> later =
        who.recipient()
            .flatMap(one -> one.quietUntil(now, urgent ? Urgency.URGENT : Urgency.WARNING))
            .or(() -> room.until(who, urgent).map(Room.Later::at));
    if (!who.note().isEmpty()) {
      notices.forEach(one -> settle(one, NoticeRow.DROPPED, who.note()));
    } else if (later.isPresent()) {
      notices.forEach(one -> keep(one, later.get(), one.note));
    } else {
      NoticeRow last = notices.get(notices.size() - 1);
      long digest = notices.size() == 1 ? 0 : notices.get(0).id;
      send(last, who.ways(), digest == 0 ? "alert" : "digest", digest);
      session
          .createMutationQuery("update NoticeRow n set n.digest = :digest where n.id in :ids")
          .setParameter("digest", digest)
          .setParameter("ids", notices.stream().map(one -> one.id).toList())
          .executeUpdate();
      notices.forEach(one -> settle(one, NoticeRow.TOLD, "after " + one.note));
    }
  }

  private void send(NoticeRow notice, List<Way> ways, String what, long digest) {
    for (Way way : ways) {
      DeliveryRow delivery = new DeliveryRow();
      delivery.alert = notice.alert;
      delivery.step = notice.step;
      delivery.recipient = notice.name;
      delivery.channel = way.channel();
      delivery.address = way.address();
      delivery.state = "pending";
      delivery.nextTry = now;
      delivery.lastError = "";
      delivery.what = what;
      delivery.digest = digest;
      delivery.options = way.options().isEmpty() ? null : JSON.writeValueAsString(way.options());
      delivery.urgency = notice.urgency;
      delivery.written = now;
      delivery.answer = "";
      session.insert(delivery);
    }
  }
}
