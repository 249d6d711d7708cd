package dev.purser.agent;

import static java.nio.charset.StandardCharsets.UTF_8;
import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Attempts as real processes; the service is played by the test. */
class AttemptsTest {
  @TempDir private Path home;
  private final List<FromAgent> told = new CopyOnWriteArrayList<>();
  private Attempts attempts;

  @BeforeEach
  void begin() {
    attempts = new Attempts(home, told::add);
  }

  @AfterEach
  void end() {
    attempts.stopAll(100);
    attempts.close();
  }

  /** Another agent in the same home, after the first was killed: nothing was said to the work. */
  private void agentDiesAndComesBack() {
    attempts.close();
    told.clear();
    attempts = new Attempts(home, told::add);
  }

  private static ToAgent.Start start(long run, String command) {
    return new ToAgent.Start(
        1, run, 1, command, "", "", "", Map.of("PIER", "north"), Map.of(), 1_000_000);
  }

  private Optional<FromAgent.Ended> ended(long run) {
    return told.stream()
        .filter(FromAgent.Ended.class::isInstance)
        .map(FromAgent.Ended.class::cast)
        .filter(one -> one.run() == run)
        .findFirst();
  }

  private FromAgent.Ended awaitEnd(long run) {
    await(() -> ended(run).isPresent());
    return ended(run).orElseThrow();
  }

  private static void await(BooleanSupplier condition) {
    long end = System.nanoTime() + 15_000_000_000L;
    while (!condition.getAsBoolean()) {
      assertThat(System.nanoTime()).as("waited too long").isLessThan(end);
      pause(20);
    }
  }

  private static void pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  /** Takes all output as the service does: with the end, or piece by piece, each acknowledged. */
  private String takeOutput(long run) {
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    await(() -> ended(run).isPresent() || piece(run, 0).isPresent());
    if (piece(run, 0).isEmpty() && ended(run).orElseThrow().output() != null) {
      attempts.recorded(new ToAgent.Recorded(run, 1, true));
      return new String(ended(run).orElseThrow().output(), StandardCharsets.UTF_8);
    }
    boolean complete = false;
    while (!complete) {
      int offset = all.size();
      await(() -> piece(run, offset).isPresent());
      FromAgent.Output piece = piece(run, offset).orElseThrow();
      all.writeBytes(piece.data());
      complete = piece.complete();
      told.remove(piece);
      attempts.outputTaken(new ToAgent.OutputTaken(run, 1, all.size(), complete));
    }
    return all.toString(StandardCharsets.UTF_8);
  }

  private Optional<FromAgent.Output> piece(long run, long offset) {
    return told.stream()
        .filter(FromAgent.Output.class::isInstance)
        .map(FromAgent.Output.class::cast)
        .filter(one -> one.run() == run && one.offset() == offset)
        .findFirst();
  }

  @ParameterizedTest
  @CsvSource({
    "exit 0, 0",
    "exit 3, 3",
    "exit 255, 255",
    "no-such-program, 127",
    "/etc/passwd, 126",
    "kill -s TERM $$, 143",
    "kill -s KILL $$, 137"
  })
  void anAttemptEndsWithItsTrueExitCode(String command, int code) {
    attempts.start(start(1, command));
    FromAgent.Ended ended = awaitEnd(1);
    assertThat(ended.how()).isEqualTo("exited");
    assertThat(ended.code()).isEqualTo(code);
  }

  @Test
  void aBeginningIsToldBeforeItsEndUnlessItIsSoonOver() {
    attempts.start(start(1, "true"));
    attempts.start(start(2, "sleep 0.3"));
    assertThat(awaitEnd(1).began()).isPositive();
    assertThat(awaitEnd(2).began()).isPositive();
    List<Long> begun =
        told.stream()
            .filter(FromAgent.Began.class::isInstance)
            .map(one -> ((FromAgent.Began) one).run())
            .toList();
    assertThat(begun).containsExactly(2L);
    assertThat(
            told.indexOf(
                told.stream().filter(FromAgent.Began.class::isInstance).findFirst().orElseThrow()))
        .isLessThan(told.indexOf(ended(2).orElseThrow()));
  }

  @Test
  void ofManyAtOnceEachIsStartedAndToldOnceAndNoMoreThanTheWindowIsOut() {
    for (long run = 1; run <= 600; run++) {
      attempts.start(start(run, "exit " + run % 7));
    }
    await(() -> ends() >= 256);
    pause(300);
    assertThat(ends()).isEqualTo(256);
    for (long run = 1; run <= 600; run++) {
      assertThat(awaitEnd(run).code()).isEqualTo((int) (run % 7));
      attempts.recorded(new ToAgent.Recorded(run, 1, true));
    }
    await(() -> attempts.known().isEmpty());
    assertThat(ends()).isEqualTo(600);
  }

  private long ends() {
    return told.stream().filter(FromAgent.Ended.class::isInstance).count();
  }

  @Test
  void outputOfBothKindsIsKeptInOrderWithItsEnvironment() {
    attempts.start(start(1, "echo to $PIER; echo wrong >&2; echo end"));
    assertThat(takeOutput(1)).isEqualTo("to north\nwrong\nend\n");
  }

  @Test
  void outputIsForNobodyElseAndTheWorkKeepsItsOwnMask() throws IOException {
    attempts.start(start(1, "umask; sleep 0.3"));
    await(() -> files("1.1").outputLength() > 0);
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(files("1.1").output())))
        .isEqualTo("rw-------");
    Process own = new ProcessBuilder("sh", "-c", "umask").start();
    assertThat(takeOutput(1)).isEqualTo(new String(own.getInputStream().readAllBytes(), UTF_8));
  }

  @Test
  void largeOutputComesInPiecesUpToItsLimit() {
    attempts.start(
        new ToAgent.Start(
            1, 1, 1, "yes 0123456789 | head -c 300000", "", "", "", Map.of(), Map.of(), 150_000));
    assertThat(takeOutput(1)).hasSize(150_000).startsWith("0123456789\n0123");
  }

  @Test
  void aDirectoryThatIsNotThereIsAFailureThatSaysSo() {
    attempts.start(
        new ToAgent.Start(
            1, 1, 1, "echo never", "", "/no/such/directory", "", Map.of(), Map.of(), 1_000));
    assertThat(awaitEnd(1).code()).isEqualTo(126);
    assertThat(takeOutput(1)).contains("/no/such/directory").doesNotContain("never");
  }

  @Test
  void theSameIdIsStartedOnlyOnceHoweverOftenItIsSaid() throws IOException {
    Path marks = home.resolve("marks");
    for (int i = 0; i < 5; i++) {
      attempts.start(start(1, "echo x >> " + marks + "; sleep 1"));
    }
    await(() -> Files.exists(marks));
    agentDiesAndComesBack();
    attempts.start(start(1, "echo x >> " + marks));
    awaitEnd(1);
    assertThat(Files.readAllLines(marks)).hasSize(1);
  }

  @Test
  void workOutlivesItsAgentAndTheNextOneReportsTheTrueCode() {
    attempts.start(start(1, "echo before; sleep 1.5; echo after; exit 42"));
    await(() -> told.stream().anyMatch(FromAgent.Output.class::isInstance));
    agentDiesAndComesBack();
    assertThat(attempts.known())
        .hasSize(1)
        .allMatch(one -> one.run() == 1 && one.began() > 0 && !one.ended());
    assertThat(awaitEnd(1).code()).isEqualTo(42);
    assertThat(takeOutput(1)).isEqualTo("before\nafter\n");
  }

  @Test
  void whatEndedWhileNoAgentWasThereIsToldByTheNext() {
    attempts.start(start(1, "sleep 0.5; exit 7"));
    await(() -> group("1.1") > 0);
    attempts.close();
    pause(1_000);
    attempts = new Attempts(home, told::add);
    assertThat(attempts.known().get(0).ended()).isTrue();
    assertThat(awaitEnd(1).code()).isEqualTo(7);
  }

  @Test
  void anAttemptThatWasJournalledButNotStartedIsForgottenAndStartedWhenItIsAskedForAgain()
      throws IOException {
    attempts.close();
    journal("9.1", Boot.id());
    attempts = new Attempts(home, told::add);
    assertThat(attempts.known()).isEmpty();
    attempts.start(start(9, "exit 4"));
    assertThat(awaitEnd(9).code()).isEqualTo(4);
  }

  /** After a loss of power the journal knows more than the logs. */
  @Test
  void anAttemptOfAnEarlierStartOfTheHostIsLostAndNotStartedAgain() throws IOException {
    attempts.close();
    journal("9.1", "another-start-of-the-host");
    attempts = new Attempts(home, told::add);
    attempts.start(start(9, "echo again >" + home.resolve("again")));
    assertThat(awaitEnd(9).how()).isEqualTo("lost");
    assertThat(home.resolve("again")).doesNotExist();
    agentDiesAndComesBack();
    assertThat(awaitEnd(9).how()).as("until the service has it on record").isEqualTo("lost");
  }

  private void journal(String name, String boot) throws IOException {
    try (Journal journal = new Journal(home)) {
      journal.add(List.of(new Journal.Entry(name, 1_000, boot)));
    }
  }

  /** The process group of an attempt, as the logs tell; 0 for none. */
  private long group(String name) {
    try {
      return StarterLog.find(home.resolve("starters")).stream()
          .flatMap(log -> log.read().stream())
          .filter(line -> line.kind() == 'g' && line.name().equals(name))
          .mapToLong(line -> line.number(0))
          .findFirst()
          .orElse(0);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private AttemptFiles files(String name) {
    return new AttemptFiles(home.resolve("attempts").toAbsolutePath(), name);
  }

  @Test
  void whatLostItsStarterIsFollowedToItsEndAndThenToldAsLost() throws IOException {
    attempts.start(start(1, "echo so far; sleep 30"));
    await(() -> files("1.1").outputLength() > 0);
    starters().forEach(ProcessHandle::destroyForcibly);
    pause(1_500);
    assertThat(ended(1)).as("its process is still at work").isEmpty();
    attempts.start(start(2, "echo another starter"));
    assertThat(awaitEnd(2).code()).isZero();
    new ProcessGroup(group("1.1"), "none").force();
    assertThat(awaitEnd(1).how()).isEqualTo("lost");
    assertThat(takeOutput(1)).isEqualTo("so far\n");
  }

  private List<ProcessHandle> starters() {
    return StartersTest.processes(home);
  }

  @ParameterizedTest
  @CsvSource({
    "'sleep 30', 143",
    "'trap \"\" TERM; sleep 30 & sleep 31; sleep 32', 137",
    "'setsid sh -c \"trap : TERM; sleep 30; sleep 30\" & exec sleep 30', 143",
    "'exec >/dev/null 2>&1; sleep 30', 143"
  })
  void stoppingAsksThenForcesAndLeavesNothingOfTheGroup(String command, int code) {
    attempts.start(start(1, command));
    await(() -> group("1.1") > 0);
    pause(200);
    attempts.stop(new ToAgent.Stop(1, 1, 1, 500));
    assertThat(awaitEnd(1).code()).isEqualTo(code);
    await(() -> !new ProcessGroup(group("1.1"), files("1.1").mark()).isAlive());
  }

  @Test
  void anAttemptIsForgottenOnceItsEndAndItsOutputAreOnRecord() {
    attempts.start(start(1, "echo hello"));
    awaitEnd(1);
    assertThat(files("1.1").output()).exists();
    attempts.recorded(new ToAgent.Recorded(1, 1, true));
    await(() -> !Files.exists(files("1.1").output()));
    assertThat(attempts.known()).isEmpty();
  }

  @Test
  void afterANewConnectionWhatWasNotConfirmedIsToldAgain() {
    attempts.start(start(1, "exit 5"));
    awaitEnd(1);
    told.clear();
    attempts.connectionIsNew();
    assertThat(awaitEnd(1).code()).isEqualTo(5);
    attempts.recorded(new ToAgent.Recorded(1, 1, false));
    told.clear();
    attempts.connectionIsNew();
    pause(600);
    assertThat(ended(1)).isEmpty();
  }

  @Test
  void filesOfForgottenAttemptsGoAndOthersAreLeftAlone() throws IOException {
    Path stray = Files.createDirectories(home.resolve("attempts/lost+found"));
    Path forgotten = Files.writeString(files("7.1").output(), "x");
    agentDiesAndComesBack();
    assertThat(attempts.known()).isEmpty();
    assertThat(stray).exists();
    assertThat(forgotten).doesNotExist();
  }

  @Test
  void aFloodOfOutputTakesNoMoreOfTheDiskThanItMay() throws IOException {
    attempts.start(
        new ToAgent.Start(
            1,
            1,
            1,
            "for i in $(seq 20); do head -c 10000000 /dev/zero; sleep 0.2; done; sleep 1",
            "",
            "",
            "",
            Map.of(),
            Map.of(),
            100_000));
    Path output = files("1.1").output();
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    while (all.size() < 100_000) {
      int offset = all.size();
      await(() -> piece(1, offset).isPresent());
      all.writeBytes(piece(1, offset).orElseThrow().data());
      attempts.outputTaken(new ToAgent.OutputTaken(1, 1, all.size(), false));
    }
    await(() -> ended(1).isPresent() || output.toFile().length() == 100_000);
    assertThat(output.toFile().length()).isLessThan(60_000_000);
    attempts.outputTaken(new ToAgent.OutputTaken(1, 1, all.size(), false));
    awaitEnd(1);
    await(() -> told.stream().anyMatch(one -> one instanceof FromAgent.Output o && o.complete()));
    assertThat(
            told.stream()
                .filter(one -> one instanceof FromAgent.Output o && o.complete())
                .map(one -> ((FromAgent.Output) one).total())
                .findFirst()
                .orElseThrow())
        .isBetween(150_000_000L, 200_000_000L); // what is written while it is cut is not counted
  }

  @ParameterizedTest
  @CsvSource({
    "'', '', ''",
    "root, '', only",
    "'', batch, batch",
    "clerk, 'batch,clerk', only an agent that runs as root"
  })
  void whatTheOwnerOfTheHostDoesNotAllowIsNotStarted(String user, String allowed, String refusal) {
    Set<String> names = allowed.isEmpty() ? Set.of() : new TreeSet<>(List.of(allowed.split(",")));
    RunAs runAs = new RunAs("porter", names);
    assertThat(runAs.refusal(user).orElse("")).contains(refusal);
    assertThat(runAs.refusal(user).isEmpty()).isEqualTo(refusal.isEmpty());
    attempts.close();
    attempts = new Attempts(home, runAs, told::add);
    attempts.start(new ToAgent.Start(1, 1, 1, "true", "", "", user, Map.of(), Map.of(), 1_000));
    assertThat(awaitEnd(1).how()).isEqualTo(refusal.isEmpty() ? "exited" : "not-started");
  }

  @Test
  void rootCanBecomeAnotherUserWhoMayHandBackValues() {
    assumeTrue(System.getProperty("user.name").equals("root"));
    attempts.close();
    assertThat(home.toFile().setExecutable(true, false)).isTrue();
    attempts = new Attempts(home, new RunAs("root", Set.of("nobody")), told::add);
    attempts.start(
        new ToAgent.Start(
            1,
            1,
            1,
            "id -un; echo rows=3 >$PURSER_VALUES; echo x >>/etc/hosts",
            "",
            "/",
            "nobody",
            Map.of(),
            Map.of(),
            1_000));
    FromAgent.Ended ended = awaitEnd(1);
    assertThat(new String(ended.output(), StandardCharsets.UTF_8))
        .startsWith("nobody\n")
        .contains("denied");
    assertThat(ended.values()).isEqualTo(Map.of("rows", "3"));
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "nobody"})
  void aSecretInAFileIsReadByItsUserAndGoneWithTheAttempt(String user) throws IOException {
    assumeTrue(user.isEmpty() || System.getProperty("user.name").equals("root"));
    attempts.close();
    assertThat(home.toFile().setExecutable(true, false)).isTrue();
    attempts =
        new Attempts(
            home, user.isEmpty() ? RunAs.ownOnly() : new RunAs("root", Set.of(user)), told::add);
    String command =
        "stat -c %a $KEY; cat $KEY; test -z \"$(tr '\\0' '\\n' </proc/self/environ | grep -F two)\"";
    Map<String, String> secrets = Map.of("KEY", "one = 1\ntwo\n");
    attempts.start(new ToAgent.Start(1, 1, 1, command, "", "/", user, Map.of(), secrets, 1_000));
    FromAgent.Ended ended = awaitEnd(1);
    assertThat(ended.note()).isEmpty();
    assertThat(takeOutput(1)).isEqualTo("600\none = 1\ntwo\n");
    assertThat(ended.code()).isZero();
    assertThat(secretFiles()).isEmpty();
  }

  @Test
  void noListOfProcessesShowsASecret() {
    String secret = "made-up-word-4711";
    String command = "test -n \"$WORD\" && ps -eo args";
    Map<String, String> both = Map.of("WORD", secret);
    attempts.start(
        new ToAgent.Start(1, 1, 1, command, "", "/", "", both, Map.of("KEY", secret), 1_000_000));
    FromAgent.Ended ended = awaitEnd(1);
    assertThat(ended.code()).isZero();
    assertThat(takeOutput(1)).contains("starter.pl").doesNotContain(secret);
  }

  @Test
  void secretsOfAnAttemptThatIsForgottenGoToo() throws IOException {
    Files.writeString(home.resolve("attempts/7.1.secret-KEY"), "x");
    agentDiesAndComesBack();
    assertThat(secretFiles()).isEmpty();
  }

  private List<Path> secretFiles() throws IOException {
    try (Stream<Path> files = Files.list(home.resolve("attempts"))) {
      return files.filter(file -> file.toString().contains("secret")).toList();
    }
  }

  /** Its own disk is full: what runs is followed to its true end, and nothing else is started. */
  @Test
  void aFullDiskLosesNoExitCode() throws Exception {
    Path small = Files.createDirectories(home.resolve("small"));
    assumeTrue(ran("mount", "-t", "tmpfs", "-o", "size=8m", "tmpfs", small.toString()) == 0);
    attempts.close();
    attempts = new Attempts(small, told::add);
    try {
      attempts.start(start(1, "sleep 1; echo this has no room; exit 42"));
      await(() -> attempts.known().stream().anyMatch(one -> one.began() > 0));
      assertThat(ran("sh", "-c", "dd if=/dev/zero of=" + small + "/fill bs=4k 2>/dev/null"))
          .as("it is full")
          .isNotZero();
      attempts.start(start(2, "echo also without room"));
      assertThat(awaitEnd(1).code()).isEqualTo(42);
      FromAgent.Ended second = awaitEnd(2);
      assertThat(second.how() + " " + second.code()).isIn("exited 1", "exited 0", "not-started -1");
      Files.delete(small.resolve("fill"));
      attempts.start(start(3, "echo room again"));
      assertThat(takeOutput(3)).isEqualTo("room again\n");
    } finally {
      attempts.stopAll(100);
      attempts.close();
      ran("umount", "-l", small.toString());
      attempts = new Attempts(home, told::add);
    }
  }

  private static int ran(String... command) throws IOException, InterruptedException {
    return new ProcessBuilder(command).inheritIO().start().waitFor();
  }

  @Test
  void bytesThatAreNoTextArriveAsTheyAre() {
    attempts.start(start(1, "printf '\\377\\376ok'"));
    assertThat(awaitEnd(1).output()).isEqualTo(new byte[] {(byte) 0xff, (byte) 0xfe, 'o', 'k'});
  }

  @Test
  void whatTheWorkWritesIntoItsFileOfValuesIsHandedBack() {
    attempts.start(
        start(1, "echo rows=1200 >>$PURSER_VALUES; echo 'kind = a b ' >>$PURSER_VALUES; exit 3"));
    FromAgent.Ended end = awaitEnd(1);
    assertThat(end.code()).isEqualTo(3);
    assertThat(end.values()).isEqualTo(Map.of("rows", "1200", "kind", "a b"));
    assertThat(end.note()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '§',
      textBlock =
          """
          printf 'rows=1\\nnonsense\\nrows=2\\n' | 1 | line 2 is not a line NAME=VALUE
          yes rows=1 ¦ head -c 70000 | 0 | has 70000 bytes, more than 65536
          seq 1 120 ¦ sed 's/.*/v&=1/' | 100 | line 101 is one value more than 100 (and 19 more)
          echo x=$(head -c 2000 /dev/zero ¦ tr '\\0' a) | 0 | is longer than 1000 characters
          """)
  void badLinesAndTooMuchAreToldAndLeftOut(String command, int values, String problem) {
    attempts.start(start(1, "( " + command.replace('¦', '|') + " ) >$PURSER_VALUES"));
    FromAgent.Ended end = awaitEnd(1);
    assertThat(end.values()).hasSize(values);
    assertThat(end.note()).contains(problem);
  }

  @ParameterizedTest
  @CsvSource({
    "true, exited, 7, work",
    "exit 1, nothing-to-do, 1, ''",
    "exit 2, check-failed, 2, ''"
  })
  void aCheckBeforeWorkDecidesWhetherItIsDone(String check, String how, int code, String output) {
    attempts.start(
        new ToAgent.Start(1, 1, 1, "echo work; exit 7", check, "", "", Map.of(), Map.of(), 1_000));
    FromAgent.Ended end = awaitEnd(1);
    assertThat(end.how()).isEqualTo(how);
    assertThat(end.code()).isEqualTo(code);
    assertThat(takeOutput(1).strip()).isEqualTo(output);
  }

  private static long number(String text) {
    return Long.parseLong(text.strip());
  }

  /** What is dead and only not yet waited for is not. */
  private static boolean isAlive(long process) {
    try {
      String stat = Files.readString(Path.of("/proc", "" + process, "stat"));
      return stat.charAt(stat.lastIndexOf(')') + 2) != 'Z';
    } catch (IOException e) {
      return false;
    }
  }

  /** {@code kill -9} of the shell alone: what it started does not run on unseen beside a rerun. */
  @Test
  void aKilledShellTakesItsGroupAlongBeforeItCountsAsOver() throws IOException {
    Path child = home.resolve("child");
    attempts.start(
        start(
            1,
            "sh -c 'trap \"\" TERM; echo $$ > " + child + "; while :; do sleep 1; done' & wait"));
    await(() -> child.toFile().length() > 1);
    long inner = number(Files.readString(child));
    long shell = ProcessHandle.of(inner).flatMap(ProcessHandle::parent).orElseThrow().pid();
    ProcessHandle.of(shell).orElseThrow().destroyForcibly();
    assertThat(awaitEnd(1).code()).isEqualTo(137);
    assertThat(isAlive(inner)).isFalse();
  }

  @Test
  void whatGoesOnAfterAShellThatEndedByItselfIsNamed() throws IOException {
    Path child = home.resolve("child");
    // What has been begun is still the shell's copy until it has become another program.
    String begun = "until grep -q sleep /proc/$!/comm; do :; done; ";
    attempts.start(start(1, "sleep 30 & " + begun + "echo $! > " + child + "; exit 3"));
    FromAgent.Ended end = awaitEnd(1);
    long left = number(Files.readString(child));
    assertThat(end.code()).isEqualTo(3);
    assertThat(end.note())
        .isEqualTo("sleep (" + left + ") goes on, started by it in the background");
    assertThat(isAlive(left)).isTrue();
    ProcessHandle.of(left).orElseThrow().destroyForcibly();
  }

  /** What is asked to stop is over when the last of it is, which has its grace. */
  @Test
  void whatIsAskedToStopIsOverWhenTheLastOfItIs() throws IOException {
    Path done = home.resolve("done");
    Path ready = home.resolve("ready");
    attempts.start(
        start(
            1,
            "sh -c 'trap \"sleep 1; echo tidied > "
                + done
                + "; exit\" TERM; echo > "
                + ready
                + "; while :; do sleep 0.1; done' & wait"));
    await(() -> Files.exists(ready));
    attempts.stop(new ToAgent.Stop(1, 1, 1, 10_000));
    awaitEnd(1);
    assertThat(done).exists();
  }

  @Test
  void workHasOfTheAgentsEnvironmentOnlyWhatIsNamed() {
    attempts.close();
    attempts = new Attempts(home, RunAs.ownOnly(), Set.of("JAVA_HOME_OF_A_TEST"), told::add);
    attempts.start(start(1, "env | cut -d= -f1 | sort"));
    Set<String> names = new TreeSet<>(takeOutput(1).lines().toList());
    assertThat(names).contains("PATH", "PIER", "PURSER_VALUES");
    names.removeIf(name -> name.startsWith("LC_"));
    assertThat(
            Set.of(
                "HOME",
                "LANG",
                "LOGNAME",
                "OLDPWD",
                "PATH",
                "PIER",
                "PURSER_VALUES",
                "PWD",
                "SHELL",
                "SHLVL",
                "TMPDIR",
                "TZ",
                "USER",
                "_"))
        .containsAll(names);
  }

  @Test
  void anAgentsHomeIsForItsOwnEyes() throws IOException {
    attempts.start(start(1, "echo a=1 >> $PURSER_VALUES; sleep 0.5"));
    awaitEnd(1);
    for (Path path : List.of(home, home.resolve("attempts"))) {
      assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(path)))
          .isEqualTo("rwx------");
    }
  }
}
