package dev.purser.service.publish;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.plan.HoldsFrom;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.service.OnDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.OnRuns;
import dev.purser.service.action.Start;
import dev.purser.service.alert.Alerts;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.draft.DraftRow;
import dev.purser.service.draft.Drafts;
import dev.purser.service.draft.DraftsToCome;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import jakarta.persistence.EntityManager;
import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.transaction.support.TransactionTemplate;

/** From when a change holds, for runs that are there, on a real database. */
class HoldsFromTest extends OnDatabase {
  private static final AuditTrail.Actor ADA = new AuditTrail.Actor("holds-ada", "127.0.0.1");
  private static int made;

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private PlanKeeper plan;
  @Autowired private RunRecords runs;
  @Autowired private DefinitionRecords definitions;
  @Autowired private Actions actions;
  @Autowired private Drafts drafts;
  @Autowired private DraftsToCome live;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Alerts alerts;
  @Autowired private EntityManager rows;
  @Autowired private TransactionTemplate transaction;

  private String at;

  @BeforeEach
  void connect() {
    people.save(ADA.name(), Role.AUTHOR, passwords.hash("long-enough-password"), false);
    at = "holds/a" + ++made;
    engine.tell(now -> new BoardEvent.HostSeen(now, "holds-pier", Set.of())).join();
  }

  private String stream(String jobs) {
    return "stream: "
        + at
        + "\npaused: no\nschedule: { days: every day, at: \"23:59\", zone: UTC }\njobs:\n"
        + jobs.indent(2);
  }

  private String jobs(String command) {
    return "one: { host: holds-pier, run: ./one"
        + command
        + " }\ntwo: { host: holds-pier, run: ./two"
        + command
        + ", waits-for: one succeeded }\n";
  }

  private static Publisher.Change change(String yaml, String from) {
    return Publisher.Change.of(
            List.of(
                new SourceFile("host.yaml", "host: holds-pier\n"), new SourceFile("a.yaml", yaml)))
        .from(Holds.parse(from, Map.of(), LocalDate.now(ZoneOffset.UTC)));
  }

  private Publisher.Outcome publish(String yaml, String from) {
    Publisher.Outcome done = publisher.publish(change(yaml, from), Optional.empty(), ADA, "mended");
    assertThat(done.sound()).as(done.problems().toString()).isTrue();
    return done;
  }

  /** Starts all of it by hand: the first job is sent to its host, the second waits. */
  private List<Long> started() {
    publish(stream(jobs("")), "");
    List<Long> ids =
        actions.start(Start.of(at, Optional.empty(), plan.today()), Optional.empty(), ADA, "");
    engine.tell(now -> new BoardEvent.AttemptBegan(now, ids.get(0), 1)).join();
    return ids;
  }

  private void end(long run, int attempt, int code) {
    engine.tell(now -> new BoardEvent.AttemptEnded(now, run, attempt, Ending.exited(code))).join();
  }

  private RunRow row(long id) {
    return runs.byId(id).orElseThrow();
  }

  private String command(long id) {
    return engine.look(board -> board.run(id).orElseThrow().run().job().work().inWords());
  }

  private List<RunSpec> onBoard() {
    return engine.look(
        board ->
            board.runs().stream()
                .filter(run -> run.run().reference().stream().equals(at))
                .toList());
  }

  private void startAnew() {
    engine.stop();
    engine.start();
    engine.tell(now -> new BoardEvent.HostSeen(now, "holds-pier", Set.of())).join();
  }

  private List<String> fates(String yaml, String from, List<Long> ids) {
    List<String> references = ids.stream().map(id -> row(id).reference()).toList();
    return publisher.preview(change(yaml, from), 3).open().stream()
        .filter(one -> references.contains(one.run().run().reference().toString()))
        .map(one -> one.run().run().reference().job() + " " + one.what().word())
        .toList();
  }

  @ParameterizedTest
  @CsvSource({
    "planned,   one keeps,    two keeps",
    "next-date, one keeps,    two keeps",
    "now,       one keeps,    two takes",
    "running,   one replaced, two takes"
  })
  void thePreviewSaysWhatBecomesOfEachOpenRun(String from, String one, String two) {
    List<Long> ids = started();
    assertThat(fates(stream(jobs(" --new")), from, ids)).containsExactly(one, two);
    assertThat(fates(stream(jobs("")), from, ids)).isEmpty();
  }

  @Test
  void whatHasBegunGoesOnAsItWasWhereNobodySaysOtherwise() {
    List<Long> ids = started();
    publish(stream(jobs(" --new")), "");
    assertThat(command(ids.get(1))).contains("./two").doesNotContain("--new");
    startAnew();
    assertThat(command(ids.get(1))).doesNotContain("--new");
  }

  @Test
  void whatWaitsTakesItNowAndAfterTheServiceStartedAnew() {
    List<Long> ids = started();
    long before = row(ids.get(1)).revision;
    Publisher.Outcome done = publish(stream(jobs(" --new")), "now");
    assertThat(done.replanned().taken()).isEqualTo(1);
    assertThat(done.replanned().stopped()).isZero();
    assertThat(definitions.publication(done.revision()).orElseThrow().origin)
        .isEqualTo("holds for all that has not started, also what waits or has failed");
    assertThat(command(ids.get(0))).doesNotContain("--new");
    assertThat(command(ids.get(1))).contains("--new");
    assertThat(row(ids.get(1)).revision).isEqualTo(done.revision()).isGreaterThan(before);
    assertThat(row(ids.get(0)).revision).isEqualTo(before);
    assertThat(runs.moments(ids.get(1)))
        .anyMatch(one -> one.note.contains("takes revision " + done.revision()));
    startAnew();
    assertThat(command(ids.get(1))).contains("--new");
    end(ids.get(0), 1, 0);
    assertThat(row(ids.get(1)).state).isEqualTo("starting");
  }

  @Test
  void aFailedRunIsMendedBeforeItIsRunAgain() {
    List<Long> ids = started();
    end(ids.get(0), 1, 2);
    publish(stream(jobs(" --new")), "now");
    actions.act(new OnRuns(List.of(ids.get(0)), Action.RERUN, 0), ADA, "mended");
    assertThat(command(ids.get(0))).contains("--new");
    assertThat(row(ids.get(0)).state).isEqualTo("starting");
  }

  @Test
  void whatRunsIsStoppedAndTriedAgain() {
    List<Long> ids = started();
    Publisher.Outcome done = publish(stream(jobs(" --new")), "running");
    assertThat(done.replanned().stopped()).isEqualTo(1);
    assertThat(row(ids.get(0)).stopping).isEqualTo("REPLACED");
    startAnew(); // it dies between the stop and its end
    engine.tell(now -> new BoardEvent.AttemptBegan(now, ids.get(0), 1)).join();
    assertThat(command(ids.get(0))).doesNotContain("--new");
    end(ids.get(0), 1, 143);
    assertThat(command(ids.get(0))).contains("--new");
    assertThat(row(ids.get(0)).state).isEqualTo("starting");
    assertThat(row(ids.get(0)).attempts).isEqualTo(2);
    assertThat(row(ids.get(0)).revision).isEqualTo(done.revision());
    startAnew();
    assertThat(command(ids.get(0))).contains("--new");
  }

  @Test
  void aMoveIsUndoneBeforeItStarts() {
    List<Long> ids = started();
    publish(stream(jobs(" --new")), "now");
    publish(stream(jobs("")), "now");
    assertThat(command(ids.get(1))).doesNotContain("--new");
  }

  @Test
  void aStartByHandKeepsTheJobsItWasStartedWith() {
    List<Long> ids = started();
    String more =
        jobs("") + "three: { host: holds-pier, run: ./three, waits-for: one succeeded }\n";
    publish(stream(more), "now");
    assertThat(onBoard())
        .filteredOn(run -> run.run().reference().number() == row(ids.get(0)).number)
        .filteredOn(run -> run.run().reference().date().equals(plan.today()))
        .hasSize(2);
  }

  @Test
  void aDateHoldsBackWhatIsBeforeIt() {
    publish(stream(jobs("")), "");
    LocalDate tomorrow = plan.today().plusDays(1);
    publish(stream(jobs(" --new")), "next-date");
    assertThat(onBoard())
        .allSatisfy(
            run ->
                assertThat(run.run().job().work().inWords().contains("--new"))
                    .isEqualTo(!run.run().reference().date().isBefore(tomorrow)));
  }

  @Test
  void streamsMayDifferButNotInADateToCome() {
    LocalDate today = plan.today();
    Holds two = Holds.parse("planned", Map.of("a/b", "now"), today);
    assertThat(two.of("a/b").what()).isEqualTo(HoldsFrom.What.OPEN);
    assertThat(two.of("a/c").what()).isEqualTo(HoldsFrom.What.PLANNED);
    assertThatThrownBy(() -> Holds.parse("", Map.of("a/b", today.plusDays(9).toString()), today))
        .hasMessageContaining("is published as a whole");
    assertThatThrownBy(() -> Holds.parse("tonight", Map.of(), today))
        .hasMessageContaining("cannot hold from \"tonight\"")
        .hasMessageContaining("next-date");
    assertThatThrownBy(() -> Holds.parse("2020-01-01", Map.of(), today))
        .hasMessageContaining("is past");
  }

  @Test
  void aNameThatSaysNothingIsRefused() {
    publish(stream(jobs("")), "");
    String name = at + "x";
    String expected = "there is no stream \"" + name + "\" of which this could hold";
    Publisher.Change change =
        change(stream(jobs(" --new")), "").from(Holds.parse("", Map.of(name, "now"), plan.today()));
    assertThatThrownBy(() -> publisher.preview(change, 3)).hasMessageContaining(expected);
    assertThatThrownBy(() -> publisher.publish(change, Optional.empty(), ADA, ""))
        .hasMessageContaining(expected);
    assertThat(engine.definitions().stream(at).orElseThrow().jobs().get(0).work().inWords())
        .doesNotContain("--new");
  }

  /** Windows that are planned are in their line: nothing of them is other. */
  @Test
  void windowsOfOthersAreLeftAlone() {
    publish(
        "stream: holds/windows\npaused: no\nschedule: { windows: 6h, zone: UTC }\n"
            + "jobs: { one: { host: holds-pier, run: \"x ${window.start}\" } }\n",
        "");
    publish(stream(jobs("")), "");
    assertThat(publisher.preview(change(stream(jobs(" --new")), "now"), 3).open())
        .isNotEmpty()
        .noneMatch(one -> one.run().run().reference().stream().equals("holds/windows"));
  }

  // ---- to come

  private DraftRow draft(String yaml) {
    return drafts.begin("to come", List.of(new SourceFile("a.yaml", yaml)), ADA.name());
  }

  private void itIsThatDate(long draft) {
    transaction.executeWithoutResult(
        any -> rows.find(DraftRow.class, draft).liveFrom = plan.today().plusDays(1));
  }

  @Test
  void aDraftGoesLiveForItsDate() {
    publish(stream(jobs("")), "");
    DraftRow draft = draft(stream(jobs(" --new")));
    assertThat(live.goLive(draft, plan.today().plusDays(9), ADA, "the new tariff").sound())
        .isTrue();
    assertThat(drafts.one(draft.id, ADA.name()).orElseThrow().liveBy).isEqualTo(ADA.name());
    itIsThatDate(draft.id);
    await().atMost(Duration.ofSeconds(30)).until(() -> drafts.one(draft.id, ADA.name()).isEmpty());
    aDateHeldBack();
  }

  private void aDateHeldBack() {
    assertThat(onBoard())
        .isNotEmpty()
        .allSatisfy(
            run ->
                assertThat(run.run().job().work().inWords().contains("--new"))
                    .isEqualTo(run.run().reference().date().isAfter(plan.today())));
  }

  @Test
  void whatIsInItsWayIsToldLongBefore() {
    publish(stream(jobs("")), "");
    DraftRow draft = draft(stream(jobs(" --new")));
    live.goLive(draft, plan.today().plusDays(9), ADA, "the new tariff");
    publish(stream(jobs(" --other")), ""); // somebody else was quicker
    await()
        .atMost(Duration.ofSeconds(30))
        .untilAsserted(
            () ->
                assertThat(alerts.openAbout(Set.of(AlertKind.CHANGE)))
                    .filteredOn(one -> one.reference.equals("draft " + draft.id))
                    .hasSize(1)
                    .allMatch(one -> one.text.contains("was published as revision")));
    itIsThatDate(draft.id);
    drafts.stay(draft.id, ADA.name());
    await()
        .atMost(Duration.ofSeconds(30))
        .untilAsserted(
            () ->
                assertThat(alerts.openAbout(Set.of(AlertKind.CHANGE)))
                    .noneMatch(one -> one.reference.equals("draft " + draft.id)));
    assertThat(drafts.one(draft.id, ADA.name())).isPresent();
  }

  @Test
  void whoeverMayNotPublishAnyMoreHasNothingGoLive() {
    DraftRow draft = draft(stream(jobs(" --new")));
    live.goLive(draft, plan.today().plusDays(9), ADA, "the new tariff");
    people.save(ADA.name(), Role.VIEWER, passwords.hash("long-enough-password"), false);
    itIsThatDate(draft.id);
    await()
        .atMost(Duration.ofSeconds(30))
        .until(
            () ->
                transaction
                    .execute(any -> rows.find(DraftRow.class, draft.id).liveTrouble)
                    .contains("may not publish any more"));
    assertThat(engine.definitions().stream(at)).isEmpty();
    people.save(ADA.name(), Role.AUTHOR, passwords.hash("long-enough-password"), false);
    drafts.save(draft.id, 1, "to come", List.of(new SourceFile("a.yaml", "x")), false, ADA.name());
    assertThat(drafts.one(draft.id, ADA.name()).orElseThrow().liveFrom).isNull();
  }
}
