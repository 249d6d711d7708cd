package dev.purser.service.source;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.definition.Kind;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.publish.Publisher;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.api.ResetCommand;
import org.eclipse.jgit.api.errors.GitAPIException;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.revwalk.RevCommit;
import org.eclipse.jgit.treewalk.TreeWalk;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;

/** Definitions that come from a real repository. */
class GitSourceTest extends OnDatabase {
  private static final AuditTrail.Actor BERIT = new AuditTrail.Actor("berit", "test");
  private static int made;

  @TempDir private Path home;
  @Autowired private GitSource source;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private DefinitionRecords records;

  private Git git;
  private String at;
  private String address;

  @BeforeEach
  void open() throws Exception {
    at = "git-" + ++made;
    Path bare = home.resolve("batch.git");
    Git.init().setBare(true).setDirectory(bare.toFile()).setInitialBranch("main").call().close();
    address = bare.toUri().toString();
    git = Git.init().setDirectory(home.resolve("work").toFile()).setInitialBranch("main").call();
    git.remoteAdd().setName("origin").setUri(new org.eclipse.jgit.transport.URIish(address)).call();
    commit("live/host.yaml", "host: git-pier\n", "A pier");
  }

  @AfterEach
  void close() {
    source.forget();
    git.close();
  }

  private String commit(String path, String text, String message)
      throws GitAPIException, IOException {
    Path file = home.resolve("work").resolve(path);
    if (text == null) {
      git.rm().addFilepattern(path).call();
    } else {
      Files.createDirectories(file.getParent());
      Files.writeString(file, text);
      git.add().addFilepattern(path).call();
    }
    RevCommit done =
        git.commit().setAuthor("astrid", "a@b.invalid").setMessage(message).setSign(false).call();
    git.push().setRemote("origin").setForce(true).add("main").call();
    return done.getName();
  }

  private String stream(String name, String command) {
    return "# kept by hand\nstream: "
        + at
        + "/"
        + name
        + "\njobs:\n  one: { host: git-pier, run: "
        + command
        + " } # a note\n";
  }

  private boolean isLive(String name) {
    return engine.definitions().stream(at + "/" + name).isPresent();
  }

  private String live(String name) {
    return engine.definitions().document(Kind.STREAM, at + "/" + name).orElseThrow().text();
  }

  @Test
  void aCommitIsLiveAfterAPersonsYesAndSaysWhose() throws Exception {
    String head = commit("live/a.yaml", stream("a", "./a"), "First light");
    source.name(address, "main", "/live/", "", false);
    SourceRow seen = source.look();
    assertThat(seen.head).isEqualTo(head);
    assertThat(seen.headAuthor).isEqualTo("astrid");
    assertThat(seen.problem).isEmpty();
    assertThat(isLive("a")).isFalse();
    assertThat(source.preview(30).outcome().added()).contains("stream " + at + "/a");
    assertThatThrownBy(() -> source.publish("0123456789", BERIT, ""))
        .isInstanceOf(GitSource.Refused.class)
        .hasMessageContaining("by now, not 0123456789");
    assertThatThrownBy(() -> source.publish("", BERIT, "")).isInstanceOf(GitSource.Refused.class);
    assertThat(source.publish(head.substring(0, 10), BERIT, "").sound()).isTrue();
    assertThat(isLive("a")).isTrue();
    assertThat(source.look().published).isEqualTo(head);
    assertThat(records.publication(engine.revision()).orElseThrow().origin)
        .isEqualTo("commit " + head.substring(0, 10) + " by astrid: First light");
    assertThat(records.publication(engine.revision()).orElseThrow().reason)
        .isEqualTo("First light");
  }

  @Test
  void soundCommitsArePublishedByThemselvesAndWhatIsTakenOutIsWithdrawn() throws Exception {
    commit("live/a.yaml", stream("a", "./a"), "One");
    commit("elsewhere/x.yaml", stream("x", "./x"), "Not below the directory");
    source.name(address, "main", "live", "", true);
    source.look();
    assertThat(isLive("a")).isTrue();
    assertThat(isLive("x")).isFalse();
    commit("live/b.yaml", stream("b", "./b"), "Two");
    source.look();
    assertThat(isLive("b")).isTrue();
    long revision = engine.revision();
    source.look();
    assertThat(engine.revision()).isEqualTo(revision);
    commit("live/a.yaml", null, "Without one");
    source.look();
    assertThat(isLive("a")).isFalse();
    assertThat(isLive("b")).isTrue();
  }

  @Test
  void aBrokenCommitChangesNothingAndIsNamedByFileAndLine() throws Exception {
    commit("live/a.yaml", stream("a", "./a"), "Good");
    source.name(address, "main", "live", "", true);
    source.look();
    long revision = engine.revision();
    commit(
        "live/b.yaml",
        "stream: " + at + "/b\njobs: { one: { host: nowhere-at-all, run: x } }\n",
        "Bad");
    assertThat(source.look().problem).contains("1 error: live/b.yaml:2: ", "nowhere-at-all");
    commit("live/b.yaml", "stream: [", "Worse");
    assertThat(source.look().problem).contains("live/b.yaml:");
    assertThat(engine.revision()).isEqualTo(revision);
    assertThatThrownBy(() -> source.publish("x".repeat(40), BERIT, ""))
        .isInstanceOf(GitSource.Refused.class);
    commit("live/b.yaml", stream("b", "./b"), "Mended");
    assertThat(source.look().problem).isEmpty();
    assertThat(isLive("b")).isTrue();
  }

  @Test
  void aRepositoryThatIsAwayOrEmptyOrHasNoSuchBranchSaysSo() throws Exception {
    source.name(home.resolve("not-there").toUri().toString(), "main", "", "", true);
    assertThat(source.look().problem).startsWith("it cannot be reached: ");
    source.name(address, "other", "", "", true);
    assertThat(source.look().problem).isEqualTo("there is no branch other in it; there is main");
    source.name(address, "main", "no/such/directory", "", true);
    assertThat(source.look().problem)
        .isEqualTo("there is no definition file below no/such/directory in it");
  }

  @Test
  void aRepositoryThatComesBackIsWellAgain() throws Exception {
    String head = commit("live/a.yaml", stream("a", "./a"), "One");
    source.name(address, "main", "live", "", true);
    assertThat(source.look().published).isEqualTo(head);
    Path bare = home.resolve("batch.git");
    Files.move(bare, home.resolve("away.git"));
    assertThat(source.look().problem).startsWith("it cannot be reached: ");
    Files.move(home.resolve("away.git"), bare);
    SourceRow back = source.look();
    assertThat(back.problem).isEmpty();
    assertThat(back.head).isEqualTo(head);
    commit("live/b.yaml", "stream: trial/1/x\njobs: { one: { host: git-pier, run: x } }\n", "Odd");
    assertThat(source.look().problem).contains("is kept for tries of drafts");
  }

  @Test
  void aBranchThatWasRewrittenNeedsAPerson() throws Exception {
    commit("live/a.yaml", stream("a", "./a"), "One");
    String base = commit("live/b.yaml", stream("b", "./b"), "Two");
    source.name(address, "main", "live", "", true);
    source.look();
    git.reset().setMode(ResetCommand.ResetType.HARD).setRef(base + "~1").call();
    String other = commit("live/c.yaml", stream("c", "./c"), "Another two");
    SourceRow seen = source.look();
    assertThat(seen.problem).startsWith("the branch was rewritten");
    assertThat(isLive("c")).isFalse();
    assertThat(source.publish(other, BERIT, "").sound()).isTrue();
    assertThat(isLive("c")).isTrue();
    assertThat(isLive("b")).isFalse();
    assertThat(source.look().problem).isEmpty();
  }

  @Test
  void whatWasChangedBesideItIsDriftAndIsWrittenBackAsABranch() throws Exception {
    String both = stream("a", "./a") + "---\n" + stream("b", "./b");
    String head = commit("live/both.yaml", both, "Both");
    source.name(address, "main", "live", "", true);
    assertThatThrownBy(source::drift).hasMessageContaining("is not published yet");
    source.look();
    assertThat(source.drift()).isEmpty();
    assertThatThrownBy(() -> source.writeBack("nothing", BERIT, ""))
        .hasMessage("nothing differs: there is nothing to write back");
    publisher.publish(
        List.of(new SourceFile("mine.yaml", live("b").replace("./b", "./b --quick"))),
        Optional.empty(),
        BERIT,
        "at night");
    assertThat(source.drift())
        .containsExactly(new GitSource.Drift(Kind.STREAM, at + "/b", "changed here"));
    String commit = source.writeBack("from-the-night", BERIT, "As it is at night");
    try (Git bare = Git.open(home.resolve("batch.git").toFile())) {
      ObjectId there = bare.getRepository().resolve("refs/heads/from-the-night");
      assertThat(there.getName()).isEqualTo(commit);
      RevCommit written = bare.getRepository().parseCommit(there);
      assertThat(written.getAuthorIdent().getName()).isEqualTo("berit");
      assertThat(written.getParent(0).getName()).isEqualTo(head);
      try (TreeWalk file =
          TreeWalk.forPath(bare.getRepository(), "live/both.yaml", written.getTree())) {
        assertThat(
                new String(
                    bare.getRepository().open(file.getObjectId(0)).getBytes(),
                    StandardCharsets.UTF_8))
            .isEqualTo(both.replace("./b", "./b --quick"));
      }
    }
    assertThat(source.look().head).isEqualTo(head);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "ssh://host/x.git        | main  | begins with https:, http: or file:",
        "--upload-pack=touch x   | main  | begins with https:, http: or file:",
        "''                      | main  | begins with https:, http: or file:",
        "https://host/x.git      | ''    | is not a valid name of a branch",
        "https://host/x.git      | a b   | is not a valid name of a branch",
      })
  void anAddressThatCannotBeReadIsRefused(String address, String branch, String why) {
    assertThatThrownBy(() -> source.name(address, branch, "", "", false))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining(why);
  }
}
