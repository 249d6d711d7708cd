package dev.purser.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.sun.net.httpserver.HttpServer;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Kind;
import dev.purser.core.preview.Preview;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.Alerts;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.calendar.CalendarFetcher;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.plan.Windows;
import dev.purser.service.publish.Publisher;
import dev.purser.service.publish.Withdrawing;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletionException;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** Pauses, windows, previews and calendars from outside, on a real database. */
class SchedulesTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final String JOB = "jobs: { one: { host: pier, run: x } }\n";

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Withdrawing withdrawing;
  @Autowired private PlanKeeper plan;
  @Autowired private Pauses pauses;
  @Autowired private Windows windows;
  @Autowired private Actions actions;
  @Autowired private RunRecords runs;
  @Autowired private Alerts alerts;
  @Autowired private AuditTrail audit;
  @Autowired private CalendarFetcher fetcher;

  private Publisher.Outcome publish(String... texts) {
    List<SourceFile> files = new ArrayList<>(List.of(new SourceFile("host.yaml", "host: pier\n")));
    for (String text : texts) {
      files.add(new SourceFile("test.yaml", text));
    }
    Publisher.Outcome outcome = publisher.publish(files, Optional.empty(), IDA, "test");
    assertThat(outcome.sound()).as(outcome.problems().toString()).isTrue();
    return outcome;
  }

  private List<RunRow> of(String stream) {
    return runs.list(
        new RunRecords.Filter(null, null, stream, "", List.of(), "", "", "", ""), "", 1_000);
  }

  private static String daily(String name, String more) {
    return "stream: "
        + name
        + "\n"
        + more
        + "schedule: { days: every day, at: \"12:00\", zone: UTC }\n"
        + JOB;
  }

  @Test
  void aNewStreamIsPausedUntilSomebodyLetsItGo() {
    publish(daily("new/a", ""));
    assertThat(of("new/a")).isEmpty();
    assertThat(pauses.all().get("new/a").reason).isEqualTo("new: nobody has let it go yet");
    assertThat(pauses.resume("new/a", IDA, "looked at")).isPositive();
    assertThat(of("new/a")).extracting(run -> run.businessDate).contains(plan.today().plusDays(1));
    assertThat(audit.list("stream new/a", Long.MAX_VALUE, 10))
        .extracting(row -> row.what)
        .contains("resume");
    publish(daily("new/a", "title: Changed\n"));
    assertThat(pauses.all()).doesNotContainKey("new/a");
    publish(daily("new/a", "paused: yes\n"));
    assertThat(pauses.all().get("new/a").reason).isEqualTo("its file says so");
    publish(daily("new/a", "paused: no\n"));
    assertThat(pauses.all()).doesNotContainKey("new/a");
  }

  @Test
  void aPausedStreamIsOffThePlanAndComesBackWithoutAGap() {
    publish(daily("pause/a", "paused: no\n"));
    long planned = of("pause/a").size();
    LocalDate until = plan.today().plusDays(3);
    pauses.pause("pause/a", Optional.of(until), IDA, "tank is being cleaned");
    assertThat(of("pause/a")).noneMatch(run -> run.state.equals("planned"));
    assertThat(pauses.all().get("pause/a").until).isEqualTo(until);
    pauses.resume("pause/a", IDA, "");
    assertThat(of("pause/a")).hasSize((int) planned);
    assertThatThrownBy(() -> pauses.resume("pause/a", IDA, ""))
        .isInstanceOf(CompletionException.class)
        .hasMessageContaining("is not paused");
    assertThatThrownBy(() -> pauses.pause("pause/a", Optional.of(plan.today()), IDA, ""))
        .hasMessageContaining("a date to come");
    assertThatThrownBy(() -> pauses.pause("pause/none", Optional.empty(), IDA, ""))
        .hasMessageContaining("there is no stream");
  }

  @Test
  void aPauseEndsByItselfOnItsDate() {
    publish(daily("pause/until", "paused: no\n"));
    pauses.pause("pause/until", Optional.of(plan.today().plusDays(2)), IDA, "holidays");
    pauses.all().get("pause/until").until = plan.today(); // two days have passed
    await()
        .atMost(Duration.ofSeconds(20))
        .until(() -> of("pause/until").stream().anyMatch(run -> run.state.equals("planned")));
    assertThat(pauses.all()).doesNotContainKey("pause/until");
    assertThat(audit.list("stream pause/until", Long.MAX_VALUE, 10).get(0).who).isEqualTo("purser");
  }

  @Test
  void windowsAreFilledBackOnceAndKeptInOrder() {
    publish(
        "stream: win/a\npaused: no\nschedule: { windows: 6h, zone: UTC }\n"
            + "jobs: { one: { host: pier, run: \"x ${window.start} ${window.end}\" } }\n");
    LocalDate from = plan.today().minusDays(3);
    int ended = LocalTime.now(ZoneOffset.UTC).getHour() / 6;
    assertThat(windows.fill("win/a", from, IDA, "new gauge")).isEqualTo(12 + ended);
    assertThat(windows.fill("win/a", from, IDA, "again")).isZero();
    List<Windows.Standing> all = windows.of("win/a", 1_000);
    assertThat(all).extracting(one -> one.date() + "#" + one.number()).doesNotHaveDuplicates();
    assertThat(all.get(all.size() - 1).start())
        .isEqualTo(from.atStartOfDay().toInstant(ZoneOffset.UTC));
    for (int i = 1; i < all.size(); i++) {
      assertThat(all.get(i).end()).isEqualTo(all.get(i - 1).start());
    }
    assertThat(all).allMatch(one -> one.state().equals("open"));
    RunRow second = all.get(all.size() - 2).runs().get(0);
    assertThat(engine.<String>look(board -> board.why(second.id).sentence()))
        .contains("window " + from + "#1 comes first and is not done");
    assertThatThrownBy(() -> windows.fill("win/a", plan.today().plusDays(1), IDA, ""))
        .hasMessageContaining("a date that is past");
  }

  @Test
  void aStartByHandTakesNoWindowsPlace() {
    publish("stream: win/c\npaused: no\nschedule: { windows: 12h, zone: UTC }\n" + JOB);
    LocalDate day = plan.today().minusDays(2);
    List<Long> byHand =
        actions.start(Start.of("win/c", Optional.empty(), day), Optional.empty(), IDA, "try it");
    RunRow tried = runs.byId(byHand.get(0)).orElseThrow();
    assertThat(tried.number).isEqualTo(3);
    assertThat(tried.windowEnd).isEqualTo(day.plusDays(1).atStartOfDay().toInstant(ZoneOffset.UTC));
    windows.fill("win/c", day, IDA, "");
    assertThat(of("win/c").stream().filter(run -> run.businessDate.equals(day)))
        .extracting(run -> run.number)
        .containsExactlyInAnyOrder(1, 2, 3);
    actions.start(
        Start.of("win/c", Optional.empty(), plan.today()), Optional.empty(), IDA, "try today");
    publish(
        "stream: win/c\ntitle: Changed\npaused: no\nschedule: { windows: 12h, zone: UTC }\n" + JOB);
    assertThat(
            of("win/c").stream()
                .filter(run -> run.businessDate.isAfter(plan.today()) && run.number == 1)
                .findFirst()
                .orElseThrow()
                .windowAfter)
        .isEqualTo(plan.today() + "#2");
  }

  @Test
  void windowsOfAnotherLengthBeginWithTheNextDate() {
    String text = "stream: win/b\npaused: no\nschedule: { windows: %s, zone: UTC }\n" + JOB;
    publish(text.formatted("6h"));
    List<String> before = lines("win/b", plan.today());
    Publisher.Outcome outcome = publish(text.formatted("12h"));
    assertThat(outcome.problems())
        .anySatisfy(
            p ->
                assertThat(p.message())
                    .contains("has windows of 12h now, not windows of 6h")
                    .contains("up to " + plan.today() + " they stay as they were"));
    assertThat(lines("win/b", plan.today())).isEqualTo(before);
    assertThat(of("win/b").stream().filter(r -> r.businessDate.isAfter(plan.today())))
        .hasSize(2)
        .allMatch(
            run -> Duration.between(run.windowStart, run.windowEnd).equals(Duration.ofHours(12)));
    assertThat(
            of("win/b").stream()
                .filter(r -> r.businessDate.isAfter(plan.today()) && r.number == 1)
                .findFirst()
                .orElseThrow()
                .windowAfter)
        .isEqualTo(plan.today() + "#4");
  }

  private List<String> lines(String stream, LocalDate date) {
    return of(stream).stream()
        .filter(run -> run.businessDate.equals(date))
        .map(run -> run.number + " " + run.windowStart + " " + run.windowEnd)
        .toList();
  }

  @Test
  void aStartIsNotLostToANumberThatAnotherStartHas() {
    LocalTime now = LocalTime.now(ZoneOffset.UTC);
    String early =
        now.isBefore(LocalTime.of(23, 0))
            ? now.plusMinutes(30).toString().substring(0, 5)
            : "23:58";
    String text =
        "stream: num/a\npaused: no\nschedule: { days: every day, at: [%s], zone: UTC }\n" + JOB;
    publish(text.formatted("\"" + early + "\", \"23:59\""));
    long held =
        of("num/a").stream()
            .filter(r -> r.number == 1 && r.businessDate.equals(plan.today()))
            .findFirst()
            .orElseThrow()
            .id;
    // The first start has begun (here: it was skipped by hand) when the schedule loses it.
    engine
        .tell(
            at ->
                new dev.purser.core.event.BoardEvent.PersonActed(
                    at, held, dev.purser.core.run.Action.SKIP, "ida", ""))
        .join();
    publish(text.formatted("\"23:59\""));
    assertThat(of("num/a").stream().filter(r -> r.businessDate.equals(plan.today())))
        .extracting(run -> run.state + " " + run.due.toString().substring(11, 16))
        .containsExactlyInAnyOrder("skipped " + early, "planned 23:59");
  }

  @Test
  void aPreviewSaysWhatWouldChangeAndChangesNothing() {
    publish(
        "holiday-calendar: pv-closed\nholidays: [ { day: 24 december, name: Yule } ]\n",
        "business-calendar: pv-office\nwithout: [pv-closed]\n",
        "stream: pv/a\ncalendar: pv-office\nschedule: { days: business days, at: \"06:00\", zone: UTC }\n"
            + JOB);
    long revision = engine.revision();
    LocalDate day = nextWeekday(plan.today().plusDays(30));
    Publisher.Previewed previewed =
        publisher.preview(
            List.of(
                new SourceFile(
                    "c.yaml",
                    "holiday-calendar: pv-closed\nholidays: [ { day: 24 december, name: Yule }, { day: "
                        + day
                        + ", name: Founders' Day } ]\n")),
            400);
    assertThat(previewed.runs().orElseThrow().runs(Preview.What.LOST)).isEqualTo(1);
    assertThat(previewed.runs().orElseThrow().streams().get(0).changes().get(0).reason())
        .isEqualTo("it is Founders' Day (pv-closed), closed in pv-office");
    assertThat(previewed.changed()).hasSize(1);
    assertThat(engine.revision()).isEqualTo(revision);
  }

  private static LocalDate nextWeekday(LocalDate from) {
    LocalDate day = from;
    while (day.getDayOfWeek().getValue() > 5) {
      day = day.plusDays(1);
    }
    return day;
  }

  @Test
  void aCalendarInUseThatRunsOutOpensAnAlertAndClosesItWhenItIsExtended() {
    String text =
        "holiday-calendar: ends-soon\nholidays: [ { day: 1 january } ]\nknown-to: %s\nwarn: 30d\n"
            + "---\nbusiness-calendar: ends-office\nwithout: [ends-soon]\n"
            + "---\nrecipient: ends-desk\nmail: [desk@brannoch.example]\n"
            + "---\nstream: ends/a\nowner: ends-desk\ncalendar: ends-office\n"
            + "schedule: { days: business days, at: \"06:00\", zone: UTC }\n"
            + JOB;
    publish(text.formatted(plan.today().plusDays(10)));
    await().atMost(Duration.ofSeconds(20)).until(() -> !about("ends-soon").isEmpty());
    AlertRow alert = about("ends-soon").get(0);
    assertThat(alert.kind).isEqualTo("calendar");
    assertThat(alert.text)
        .contains("is known only to " + plan.today().plusDays(10))
        .contains("it is used by ends/a");
    await()
        .atMost(Duration.ofSeconds(10))
        .until(() -> alerts.deliveries(List.of(alert.id)).containsKey(alert.id));
    assertThat(alerts.deliveries(List.of(alert.id)).get(alert.id))
        .extracting(delivery -> delivery.address)
        .containsExactly("desk@brannoch.example");
    publish(text.formatted(plan.today().plusDays(400)));
    await().atMost(Duration.ofSeconds(20)).until(() -> about("ends-soon").isEmpty());
    assertThat(about("ends-office")).isEmpty();
  }

  private List<AlertRow> about(String calendar) {
    return alerts.openAbout(java.util.Set.of(dev.purser.core.alert.AlertKind.CALENDAR)).stream()
        .filter(alert -> alert.reference.equals("calendar " + calendar))
        .toList();
  }

  private static String ics(String days) {
    StringBuilder out = new StringBuilder("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n");
    for (String day : days.split(" ")) {
      out.append("BEGIN:VEVENT\r\nUID:").append(day).append("\r\nDTSTAMP:20270101T000000Z\r\n");
      out.append("SUMMARY:Day ").append(day).append("\r\nDTSTART;VALUE=DATE:").append(day);
      out.append("\r\nEND:VEVENT\r\n");
    }
    return out.append("END:VCALENDAR\r\n").toString();
  }

  @Test
  void aFetchedCalendarKeepsItsLastGoodCopyAndSaysWhatIsWrong() throws IOException {
    int year = plan.today().getYear() + 1;
    AtomicReference<String> answer = new AtomicReference<>(ics(year + "0517 " + year + "0618"));
    HttpServer server =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext(
        "/skerry.ics",
        exchange -> {
          byte[] body = answer.get().getBytes(StandardCharsets.UTF_8);
          exchange.sendResponseHeaders(200, body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    server.start();
    try {
      String source =
          "connection: fetch-council\naddress: http://127.0.0.1:"
              + server.getAddress().getPort()
              + "\n---\nholiday-calendar: fetched\ntitle: Fetched\nobservance: { sunday: monday after }\n"
              + "source: { connection: fetch-council, path: /skerry.ics, every: 1m }\n";
      publish(
          source,
          "business-calendar: fetched-office\nwithout: [fetched]\n",
          "stream: fetch/a\ncalendar: fetched-office\nschedule: { days: business days, at: \"06:00\", zone: UTC }\n"
              + JOB);
      await().atMost(Duration.ofSeconds(20)).until(() -> !days("fetched").isEmpty());
      assertThat(days("fetched")).contains(LocalDate.of(year, 5, 17), LocalDate.of(year, 6, 18));
      assertThat(engine.definitions().calendars().knownTo("fetched"))
          .contains(LocalDate.of(year, 12, 31));
      publish(source.replace("title: Fetched", "title: Fetched again"));
      assertThat(days("fetched")).contains(LocalDate.of(year, 5, 17));
      assertThat(engine.definitions().calendars().holidays("fetched").orElseThrow().title())
          .isEqualTo("Fetched again");
      long revision = engine.revision();
      answer.set("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n");
      publish(source.replace("title: Fetched", "title: T").replace("every: 1m", "every: 2m"));
      withdrawing.withdraw(Kind.STREAM, "fetch/a", IDA, "");
      assertThat(days("fetched")).contains(LocalDate.of(year, 5, 17));
      assertThat(engine.revision()).isGreaterThan(revision);
      assertThat(fetcher.fetches().get("fetched").error).isEmpty();
    } finally {
      server.stop(0);
    }
  }

  private List<LocalDate> days(String calendar) {
    LocalDate first = plan.today().withDayOfYear(1);
    return List.copyOf(
        engine.definitions().calendars().closedDays(calendar, first, first.plusYears(2)).keySet());
  }

  @Test
  void aCalendarThatIsInUseCannotBeWithdrawn() {
    publish(
        "holiday-calendar: used-closed\nholidays: [ { day: 24 december } ]\n---\n"
            + "business-calendar: used-office\nwithout: [used-closed]\n---\nstream: used/a\ncalendar: used-office\n"
            + JOB);
    assertThat(withdrawing.withdraw(Kind.HOLIDAY_CALENDAR, "used-closed", IDA, ""))
        .containsExactly("used-office");
    assertThat(withdrawing.withdraw(Kind.BUSINESS_CALENDAR, "used-office", IDA, ""))
        .containsExactly("used/a");
    assertThat(DefinitionCheck.usersOf(engine.definitions(), Kind.STREAM, "used/a")).isEmpty();
  }
}
