package dev.purser.service.api;

import dev.purser.core.alert.AlertKind;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertStepRow;
import dev.purser.service.alert.Alerts;
import dev.purser.service.alert.DeliveryRow;
import dev.purser.service.alert.NoticeRow;
import dev.purser.service.alert.TellingRow;
import dev.purser.wire.api.AlertViews;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Makes of the records of alerts what is shown. */
@Component
class AlertPages {
  private final Alerts alerts;
  private final Clock clock;
  private final Settings settings;

  AlertPages(Alerts alerts, Clock clock, Settings settings) {
    this.settings = settings;
    this.alerts = alerts;
    this.clock = clock;
  }

  List<AlertViews.AlertView> of(List<AlertRow> rows) {
    List<Long> ids = rows.stream().map(row -> row.id).toList();
    Map<Long, List<DeliveryRow>> deliveries = alerts.deliveries(ids);
    Map<Long, List<AlertStepRow>> steps = alerts.steps(ids);
    Map<Long, List<NoticeRow>> notices = alerts.notices(ids);
    Map<Long, TellingRow> tellings = alerts.tellings(ids);
    return rows.stream()
        .map(
            row ->
                view(
                    row,
                    tellings.getOrDefault(row.id, new TellingRow()),
                    notices.getOrDefault(row.id, List.of()),
                    deliveries.getOrDefault(row.id, List.of()),
                    steps.getOrDefault(row.id, List.of())))
        .toList();
  }

  private AlertViews.AlertView view(
      AlertRow row,
      TellingRow telling,
      List<NoticeRow> notices,
      List<DeliveryRow> deliveries,
      List<AlertStepRow> steps) {
    return new AlertViews.AlertView(
        row.id,
        row.kind,
        kindTitle(row.kind),
        row.urgency,
        row.rule,
        row.state(clock.instant()),
        row.reference,
        row.run,
        row.stream,
        row.title,
        row.text,
        row.page(),
        row.opened,
        row.acknowledged,
        row.acknowledgedBy,
        row.closed,
        row.closedBecause,
        row.putOffUntil,
        row.cause,
        telling.partOf,
        telling.parts,
        row.firstAid == null ? "" : row.firstAid,
        notices.stream()
            .map(
                one ->
                    new AlertViews.NoticeView(
                        one.name,
                        one.byWayOf,
                        one.why,
                        one.urgency,
                        one.at,
                        one.due,
                        one.state,
                        one.note))
            .toList(),
        deliveries.stream()
            .map(
                d ->
                    new AlertViews.DeliveryView(
                        d.recipient,
                        d.channel,
                        d.address,
                        d.what,
                        d.state,
                        d.tries,
                        d.delivered,
                        d.answer,
                        d.lastError))
            .toList(),
        steps.stream()
            .map(
                one ->
                    new AlertViews.AlertStepView(
                        one.at, one.what, one.kind, kindTitle(one.kind), one.who, one.text))
            .toList(),
        settings.zone().getId());
  }

  private static String kindTitle(String kind) {
    return AlertKind.of(kind).map(AlertKind::title).orElse(kind);
  }
}
