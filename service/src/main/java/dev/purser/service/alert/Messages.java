package dev.purser.service.alert;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.definition.Way;
import dev.purser.service.Settings;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Makes of a delivery what is carried. */
@Component
@Transactional(readOnly = true)
public class Messages {
  private static final int MOST_NAMED = 10;
  private static final int MOST_IN_DIGEST = 100;
  private static final DateTimeFormatter AT =
      DateTimeFormatter.ofPattern("MM-dd HH:mm", Locale.ROOT);

  private final EntityManager rows;
  private final RunFacts runs;
  private final Settings settings;
  private final JsonMapper json;

  Messages(EntityManager rows, RunFacts runs, Settings settings, JsonMapper json) {
    this.runs = runs;
    this.rows = rows;
    this.settings = settings;
    this.json = json;
  }

  /** Where a delivery goes. */
  public Way way(DeliveryRow delivery) {
    Map<String, String> options =
        delivery.options == null
            ? Map.of()
            : json.readValue(delivery.options, new TypeReference<Map<String, String>>() {});
    return new Way(delivery.channel, delivery.address, options);
  }

  /** What a delivery carries; what is told was so when its step was taken. */
  public Message of(DeliveryRow delivery) {
    if ("digest".equals(delivery.what)) {
      return digest(delivery);
    }
    AlertRow alert = rows.find(AlertRow.class, delivery.alert);
    Told told =
        Told.of(
            alert, Optional.ofNullable(delivery.step).map(id -> rows.find(AlertStepRow.class, id)));
    String step = told.what();
    List<String> parts = step.equals("closed") ? List.of() : parts(alert.id);
    TellingRow telling = rows.find(TellingRow.class, alert.id);
    String text = told.text();
    if (!step.equals("opened") && !step.equals("changed")) {
      text = told.text() + "\n\n" + alert.text;
    }
    return new Message(
        id(delivery),
        "alert",
        alert.id,
        step,
        told.kind(),
        alert.urgency,
        alert.title,
        text,
        alert.reference,
        alert.run,
        alert.stream,
        alert.rule,
        told.at(),
        settings.consoleAddress() + alert.page(),
        alert.run == 0 ? "purser alerts show " + alert.id : "purser why '" + alert.reference + "'",
        telling == null || step.equals("closed") ? 0 : telling.parts,
        parts,
        alert.firstAid == null ? "" : alert.firstAid,
        thread(delivery),
        runs.of(alert),
        step.equals("closed") ? List.of() : failed(alert));
  }

  static String id(DeliveryRow delivery) {
    return "alert-" + delivery.alert + "-" + delivery.id;
  }

  private List<String> failed(AlertRow alert) {
    return Stream.concat(Stream.of(alert), partsOf(alert.id).stream())
        .filter(one -> one.kind.equals(AlertKind.FAILED.word()))
        .map(one -> one.title + ": " + one.text + " " + settings.consoleAddress() + one.page())
        .toList();
  }

  private List<String> parts(long alert) {
    return partsOf(alert).stream()
        .map(part -> part.title + " (" + part.kind + "): " + part.text)
        .toList();
  }

  private List<AlertRow> partsOf(long alert) {
    return rows.createQuery(
            "select a from AlertRow a join TellingRow t on t.alert = a.id where t.partOf = :id"
                + " order by a.id",
            AlertRow.class)
        .setParameter("id", alert)
        .setMaxResults(MOST_NAMED)
        .getResultList();
  }

  /** The first of an alert to an address begins a conversation, in which the others are. */
  private Optional<String> thread(DeliveryRow delivery) {
    Long first =
        rows.createQuery(
                "select min(d.id) from DeliveryRow d where d.alert = :alert and d.channel ="
                    + " :channel and d.address = :address and d.what = 'alert'",
                Long.class)
            .setParameter("alert", delivery.alert)
            .setParameter("channel", delivery.channel)
            .setParameter("address", delivery.address)
            .getSingleResult();
    return first == null || first.equals(delivery.id)
        ? Optional.empty()
        : Optional.of("alert-" + delivery.alert + "-" + first);
  }

  private Message digest(DeliveryRow delivery) {
    List<NoticeRow> notices =
        rows.createQuery("from NoticeRow n where n.digest = :digest order by n.id", NoticeRow.class)
            .setParameter("digest", delivery.digest)
            .getResultList();
    ZoneId zone = settings.zone();
    List<String> lines = new ArrayList<>();
    for (NoticeRow notice : notices.subList(0, Math.min(MOST_IN_DIGEST, notices.size()))) {
      AlertRow alert = rows.find(AlertRow.class, notice.alert);
      AlertStepRow step = rows.find(AlertStepRow.class, notice.step);
      lines.add(
          AT.format(notice.at.atZone(zone))
              + " "
              + step.kind
              + ": "
              + alert.title
              + ": "
              + step.text
              + (alert.closed != null ? " (over)" : ""));
    }
    int more = notices.size() - lines.size();
    if (more > 0) {
      lines.add("and " + more + " more: see the list of alerts");
    }
    long open =
        notices.stream().filter(one -> rows.find(AlertRow.class, one.alert).closed == null).count();
    Instant last = notices.isEmpty() ? delivery.written : notices.get(notices.size() - 1).at;
    return new Message(
        "digest-" + delivery.digest + "-" + delivery.id,
        "digest",
        0,
        "opened",
        "digest",
        delivery.urgency,
        notices.size() + " alerts that have waited, " + open + " of them open",
        "these have waited: "
            + (notices.isEmpty() ? "" : notices.get(0).note.replaceFirst("^after ", "")),
        "alerts",
        0,
        "",
        "",
        last,
        settings.consoleAddress() + "/alerts",
        "purser alerts",
        notices.size(),
        lines,
        "",
        Optional.empty(),
        Message.Of.NONE,
        List.of());
  }

  /** A message that only tries whether a way leads to where it should. */
  public Message test(String recipient, String who, Instant at) {
    return new Message(
        "test-" + at.toEpochMilli() + "-" + Integer.toHexString(recipient.hashCode()),
        "test",
        0,
        "opened",
        "test",
        "note",
        "This is a test of how " + recipient + " is reached",
        who + " has asked for it; nothing is wrong, and nobody need act",
        recipient,
        0,
        "",
        "",
        at,
        settings.consoleAddress() + "/alerts",
        "purser alerts try --to " + recipient,
        0,
        List.of(),
        "",
        Optional.empty(),
        Message.Of.NONE,
        List.of());
  }
}
