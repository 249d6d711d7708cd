package dev.purser.service.source;

import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.SourceFile;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.eclipse.jgit.api.CloneCommand;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.api.LsRemoteCommand;
import org.eclipse.jgit.api.TransportCommand;
import org.eclipse.jgit.api.errors.GitAPIException;
import org.eclipse.jgit.api.errors.JGitInternalException;
import org.eclipse.jgit.errors.MissingObjectException;
import org.eclipse.jgit.lib.FileMode;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.lib.ObjectLoader;
import org.eclipse.jgit.lib.Ref;
import org.eclipse.jgit.revwalk.RevCommit;
import org.eclipse.jgit.revwalk.RevWalk;
import org.eclipse.jgit.transport.PushResult;
import org.eclipse.jgit.transport.RefSpec;
import org.eclipse.jgit.transport.RemoteRefUpdate;
import org.eclipse.jgit.transport.UsernamePasswordCredentialsProvider;
import org.eclipse.jgit.treewalk.TreeWalk;
import org.eclipse.jgit.treewalk.filter.PathFilter;

/**
 * A repository somewhere else: what a branch of it has, and a way to put a branch of one's own
 * there. Nothing of it is kept: what was fetched is gone afterwards.
 *
 * @param address that JGit understands: {@code https:}, {@code http:} or {@code file:}
 * @param account the name to sign in with; empty for nobody
 * @param secret its password or token
 */
record Repository(String address, String branch, String directory, String account, String secret) {
  private static final int TIMEOUT_SECONDS = 60;
  private static final int MOST_FILES = 20_000;
  private static final long LARGEST = 16_000_000;
  private static final long LARGEST_ALL = 100_000_000;

  /** It cannot be reached or read; says why, for people. */
  static final class Unreadable extends Exception {
    private static final long serialVersionUID = 1L;

    Unreadable(String message) {
      super(Shorten.text(message, 1_000));
    }
  }

  /**
   * What a branch has.
   *
   * @param rewritten whether the commit that was published is not among those before it
   */
  record Snapshot(
      String commit, String author, String message, boolean rewritten, List<SourceFile> files) {}

  /** The commit of the branch now. */
  String head() throws Unreadable {
    try {
      LsRemoteCommand ask = Git.lsRemoteRepository().setRemote(address).setHeads(true);
      Collection<Ref> refs = signedIn(ask).call();
      return refs.stream()
          .filter(ref -> ref.getName().equals("refs/heads/" + branch))
          .map(ref -> ref.getObjectId().getName())
          .findFirst()
          .orElseThrow(() -> noBranch(refs));
    } catch (GitAPIException | JGitInternalException e) {
      throw away(e);
    }
  }

  private Unreadable noBranch(Collection<Ref> refs) {
    List<String> names =
        refs.stream().map(ref -> ref.getName().replaceFirst("refs/heads/", "")).sorted().toList();
    return new Unreadable(
        "there is no branch "
            + branch
            + " in it"
            + (names.isEmpty() ? ": it is empty" : "; there is " + Shorten.names(names, 6)));
  }

  private Unreadable away(Exception e) {
    Throwable cause = e;
    while (cause.getCause() != null) {
      cause = cause.getCause();
    }
    String said = cause.getMessage() == null ? cause.toString() : cause.getMessage();
    return new Unreadable("it cannot be reached: " + said);
  }

  private <C extends TransportCommand<?, ?>> C signedIn(C command) {
    command.setTimeout(TIMEOUT_SECONDS);
    if (!account.isEmpty()) {
      command.setCredentialsProvider(new UsernamePasswordCredentialsProvider(account, secret));
    }
    return command;
  }

  /**
   * Reads the definition files of the branch.
   *
   * @param published the commit that was published last; empty for none
   */
  Snapshot read(String published) throws Unreadable {
    return within(
        directory -> {
          CloneCommand clone =
              Git.cloneRepository()
                  .setURI(address)
                  .setBare(true)
                  .setDirectory(directory.toFile())
                  .setBranch("refs/heads/" + branch)
                  .setBranchesToClone(List.of("refs/heads/" + branch));
          try (Git git = signedIn(clone).call();
              RevWalk walk = new RevWalk(git.getRepository())) {
            ObjectId id = git.getRepository().resolve("refs/heads/" + branch);
            if (id == null) {
              throw new Unreadable("there is no branch " + branch + " in it");
            }
            RevCommit commit = walk.parseCommit(id);
            return new Snapshot(
                commit.getName(),
                commit.getAuthorIdent().getName(),
                commit.getShortMessage(),
                !published.isEmpty() && !isBefore(published, commit, walk),
                files(git.getRepository(), commit));
          }
        });
  }

  private static boolean isBefore(String published, RevCommit commit, RevWalk walk)
      throws IOException {
    try {
      return walk.isMergedInto(walk.parseCommit(ObjectId.fromString(published)), commit);
    } catch (MissingObjectException e) {
      return false;
    }
  }

  private List<SourceFile> files(org.eclipse.jgit.lib.Repository from, RevCommit commit)
      throws IOException, Unreadable {
    List<SourceFile> files = new ArrayList<>();
    long all = 0;
    try (TreeWalk tree = new TreeWalk(from)) {
      tree.addTree(commit.getTree());
      tree.setRecursive(true);
      if (!directory.isEmpty()) {
        tree.setFilter(PathFilter.create(directory));
      }
      while (tree.next()) {
        boolean file = tree.getFileMode(0).getObjectType() == FileMode.REGULAR_FILE.getObjectType();
        boolean link = tree.getFileMode(0).equals(FileMode.SYMLINK);
        if (!file || link || !tree.getPathString().matches("(?s).*\\.(yaml|yml|csv)")) {
          continue;
        }
        ObjectLoader loader = from.open(tree.getObjectId(0));
        all += loader.getSize();
        if (loader.getSize() > LARGEST || all > LARGEST_ALL || files.size() == MOST_FILES) {
          throw new Unreadable(
              tree.getPathString()
                  + ": there is too much in it; at most "
                  + MOST_FILES
                  + " files, 16 MB each and 100 MB of all");
        }
        files.add(
            new SourceFile(
                tree.getPathString(), new String(loader.getBytes(), StandardCharsets.UTF_8)));
      }
    }
    if (files.isEmpty()) {
      throw new Unreadable(
          "there is no definition file"
              + (directory.isEmpty() ? " in it" : " below " + directory + " in it"));
    }
    return files;
  }

  /**
   * Puts a branch there with other files.
   *
   * @param name of the branch, which must not be there yet
   * @param files texts by path
   * @return its commit
   */
  String writeBack(String name, Map<String, String> files, String who, String message)
      throws Unreadable {
    return within(
        directory -> {
          CloneCommand clone =
              Git.cloneRepository()
                  .setURI(address)
                  .setDirectory(directory.toFile())
                  .setBranch("refs/heads/" + branch)
                  .setBranchesToClone(List.of("refs/heads/" + branch));
          try (Git git = signedIn(clone).call()) {
            for (Map.Entry<String, String> file : files.entrySet()) {
              Path path = directory.resolve(file.getKey()).normalize();
              if (!path.startsWith(directory)) {
                throw new Unreadable(file.getKey() + " is not a path within the repository");
              }
              Files.writeString(path, file.getValue());
              git.add().addFilepattern(file.getKey()).call();
            }
            RevCommit made =
                git.commit()
                    .setAuthor(who, who + "@purser.invalid")
                    .setCommitter("Purser", "purser@purser.invalid")
                    .setMessage(message)
                    .setSign(false)
                    .call();
            push(git, name);
            return made.getName();
          }
        });
  }

  private void push(Git git, String name) throws GitAPIException, Unreadable {
    Iterable<PushResult> results =
        signedIn(git.push().setRefSpecs(new RefSpec("HEAD:refs/heads/" + name))).call();
    for (PushResult result : results) {
      for (RemoteRefUpdate update : result.getRemoteUpdates()) {
        if (update.getStatus() != RemoteRefUpdate.Status.OK) {
          throw new Unreadable("branch " + name + " was not taken there: " + update.getStatus());
        }
      }
    }
  }

  private interface Work<T> {
    T in(Path directory) throws GitAPIException, IOException, Unreadable;
  }

  private <T> T within(Work<T> work) throws Unreadable {
    Path directory = null;
    try {
      directory = Files.createTempDirectory("purser-source");
      return work.in(directory);
    } catch (GitAPIException | JGitInternalException | IOException e) {
      throw away(e);
    } finally {
      remove(directory);
    }
  }

  private static void remove(Path directory) {
    if (directory == null) {
      return;
    }
    try (Stream<Path> all = Files.walk(directory)) {
      all.sorted(Comparator.reverseOrder()).forEach(path -> path.toFile().delete());
    } catch (IOException e) {
      directory.toFile().deleteOnExit();
    }
  }
}
