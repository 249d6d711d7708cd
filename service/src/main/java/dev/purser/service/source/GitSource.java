package dev.purser.service.source;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Problem;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.DefinitionRow;
import dev.purser.service.definition.PublicationRow;
import dev.purser.service.publish.Agreement;
import dev.purser.service.publish.Publisher;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletionException;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Follows a branch of a repository: new commits are checked, and published by themselves or after a
 * person's yes. What is live stays live where a commit is not sound, or the repository is away.
 */
@Component
public class GitSource {
  /** What the origin of each publication from it begins with. */
  private static final String COMMIT = "commit ";

  private static final int MOST_NAMED = 6;
  private static final int SHORT = 10;
  private static final Logger LOG = LoggerFactory.getLogger(GitSource.class);
  private static final AuditTrail.Actor ITSELF =
      new AuditTrail.Actor("purser", "the service itself");

  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Engine engine;
  private final Publisher publisher;
  private final DefinitionRecords records;
  private final Clock clock;
  private final String secret;

  GitSource(
      EntityManager rows,
      TransactionTemplate transactions,
      Engine engine,
      Publisher publisher,
      DefinitionRecords records,
      Clock clock,
      @Value("${purser.source-secret:}") String secret) {
    this.rows = rows;
    this.transactions = transactions;
    this.engine = engine;
    this.publisher = publisher;
    this.records = records;
    this.clock = clock;
    this.secret = secret;
  }

  /** Something that cannot be done with it as it stands. */
  public static final class Refused extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Refused(String message) {
      super(message);
    }
  }

  /** Something live that is not as the repository has it. */
  public record Drift(Kind kind, String name, String how) {}

  /** The source; empty where none is named. */
  public Optional<SourceRow> named() {
    return Optional.ofNullable(
        transactions.execute(any -> rows.find(SourceRow.class, SourceRow.ONLY)));
  }

  private SourceRow found() {
    return named()
        .orElseThrow(
            () ->
                new NotUnderstood("no repository is named; purser source --set ADDRESS names one"));
  }

  /**
   * Names it, and forgets what was seen of another.
   *
   * @throws NotUnderstood where the address is of no kind that can be read
   */
  public SourceRow name(
      String address, String branch, String directory, String account, boolean byItself) {
    if (!address.matches("(https?|file):/.*")) {
      throw new NotUnderstood(
          "the address of a repository begins with https:, http: or file:, not as " + address);
    }
    if (branch.isBlank() || !branch.matches("[A-Za-z0-9._/-]+")) {
      throw new NotUnderstood("\"" + branch + "\" is not a valid name of a branch");
    }
    String below = directory.replaceAll("^/+|/+$", "");
    return transactions.execute(
        any -> {
          SourceRow row =
              Optional.ofNullable(rows.find(SourceRow.class, SourceRow.ONLY))
                  .orElseGet(SourceRow::new);
          boolean fresh = row.id == 0;
          boolean same =
              address.equals(row.address)
                  && branch.equals(row.branch)
                  && below.equals(row.directory);
          row.id = SourceRow.ONLY;
          row.address = address;
          row.branch = branch;
          row.directory = below;
          row.account = account;
          row.byItself = byItself;
          row.looked = null;
          if (!same) {
            row.head = "";
            row.headAuthor = "";
            row.headMessage = "";
            row.published = "";
            row.problem = "";
          }
          if (fresh) {
            rows.persist(row);
          }
          return row;
        });
  }

  /** Forgets it; what is live stays. */
  public void forget() {
    transactions.executeWithoutResult(
        any ->
            Optional.ofNullable(rows.find(SourceRow.class, SourceRow.ONLY))
                .ifPresent(rows::remove));
  }

  @Scheduled(fixedDelay = 20_000, initialDelay = 10_000)
  void lookByItself() {
    if (engine.isActive()) {
      try {
        named().ifPresent(row -> look());
      } catch (RuntimeException e) {
        LOG.warn("the repository of definitions cannot be looked at: {}", e.toString());
      }
    }
  }

  private Repository repository(SourceRow row) {
    return new Repository(row.address, row.branch, row.directory, row.account, secret);
  }

  /** Looks for new commits, and publishes one that is sound where it is to be by itself. */
  public synchronized SourceRow look() {
    SourceRow row = found();
    try {
      String head = repository(row).head();
      boolean waits = !row.byItself || !row.problem.isEmpty();
      if (head.equals(row.head) && (waits || head.equals(row.published))) {
        return note(one -> {}); // it was read and judged before
      }
      Repository.Snapshot now = repository(row).read(row.published);
      Publisher.Sketch sketch = publisher.sketch(now.files());
      List<Problem> errors = sketch.problems().stream().filter(Problem::isError).toList();
      String problem =
          !errors.isEmpty()
              ? errors.size() + (errors.size() == 1 ? " error: " : " errors: ") + first(errors)
              : now.rewritten()
                  ? "the branch was rewritten: what was published is not among its commits any"
                      + " more; look at the preview, and publish it by hand"
                  : "";
      SourceRow seen =
          note(
              one -> {
                one.head = now.commit();
                one.headAuthor = Shorten.text(now.author(), 300);
                one.headMessage = Shorten.text(now.message(), 500);
                one.problem = problem;
              });
      return problem.isEmpty() && row.byItself ? publishedByItself(now) : seen;
    } catch (Repository.Unreadable | NotUnderstood e) {
      return note(
          one -> {
            one.problem = Shorten.text(e.getMessage(), 2_000);
            one.head = ""; // what is there when it can be read again is judged anew
          });
    }
  }

  private static String first(List<Problem> errors) {
    return errors.stream()
        .limit(3)
        .map(one -> one.file() + ":" + one.line() + ": " + one.message())
        .collect(Collectors.joining("; "));
  }

  private SourceRow publishedByItself(Repository.Snapshot now) {
    try {
      publish(now, ITSELF, "", "");
      return found();
    } catch (CompletionException e) {
      String why =
          e.getCause() instanceof Agreement.Missing
              ? "somebody must agree to it: publish it by hand"
              : String.valueOf(e.getCause().getMessage());
      return note(one -> one.problem = Shorten.text(why, 2_000));
    }
  }

  private SourceRow note(Consumer<SourceRow> change) {
    return transactions.execute(
        any -> {
          SourceRow row = rows.find(SourceRow.class, SourceRow.ONLY);
          if (row == null) {
            throw new NotUnderstood("no repository is named any more");
          }
          row.looked = clock.instant();
          change.accept(row);
          return row;
        });
  }

  /**
   * The change that publishing what it has now would be.
   *
   * @throws Refused where it cannot be read
   */
  private Publisher.Change change() {
    return change(snapshot(found()));
  }

  /** What publishing what it has now would do. */
  public Publisher.Previewed preview(int days) {
    return publisher.preview(change(), days);
  }

  private Repository.Snapshot snapshot(SourceRow row) {
    try {
      return repository(row).read(row.published);
    } catch (Repository.Unreadable e) {
      note(one -> one.problem = e.getMessage());
      throw new Refused(e.getMessage());
    }
  }

  private Publisher.Change change(Repository.Snapshot now) {
    String origin =
        COMMIT
            + now.commit().substring(0, SHORT)
            + " by "
            + now.author()
            + ": "
            + Shorten.text(now.message(), 300);
    return new Publisher.Change(now.files(), gone(now), origin);
  }

  /** What came from it once and is not in it any more. */
  private List<Named> gone(Repository.Snapshot now) {
    Set<Named> there =
        publisher.sketch(now.files()).documents().stream()
            .map(Named::of)
            .collect(Collectors.toSet());
    List<DefinitionRow> live = records.inForceAt(engine.revision());
    Map<Long, PublicationRow> publications =
        records.publications(live.stream().map(row -> row.revision).distinct().toList());
    return live.stream()
        .filter(row -> row.madeBy.isEmpty())
        .filter(row -> publications.containsKey(row.revision))
        .filter(row -> publications.get(row.revision).origin.startsWith(COMMIT))
        .map(row -> new Named(Kind.of(row.kind).orElseThrow(), row.name))
        .filter(one -> !there.contains(one))
        .toList();
  }

  /**
   * Publishes what it has now, after a person's yes.
   *
   * @param commit that they looked at
   * @throws Refused where another is there by now
   */
  public synchronized Publisher.Outcome publish(
      String commit, AuditTrail.Actor actor, String reason) {
    Repository.Snapshot now = snapshot(found());
    if (!now.commit().startsWith(commit) || commit.length() < SHORT) {
      throw new Refused(
          "the branch has commit "
              + now.commit().substring(0, SHORT)
              + " by now, not "
              + commit
              + ": look at that one");
    }
    return publish(now, actor, now.author().equals(actor.name()) ? "" : actor.name(), reason);
  }

  private Publisher.Outcome publish(
      Repository.Snapshot now, AuditTrail.Actor actor, String agreedBy, String reason) {
    Publisher.Outcome outcome =
        publisher.publish(
            change(now).agreedBy(agreedBy),
            Optional.empty(),
            actor,
            reason.isEmpty() ? Shorten.text(now.message(), 1_000) : reason);
    if (outcome.sound()) {
      note(
          one -> {
            one.head = now.commit();
            one.headAuthor = Shorten.text(now.author(), 300);
            one.headMessage = Shorten.text(now.message(), 500);
            one.published = now.commit();
            one.problem = "";
          });
    }
    return outcome;
  }

  /** What is live and not as the published commit has it. */
  public List<Drift> drift() {
    SourceRow row = found();
    Repository.Snapshot now = snapshot(row);
    if (!now.commit().equals(row.published)) {
      throw new Refused(
          "the branch has commit "
              + now.commit().substring(0, SHORT)
              + ", which is not published yet: purser source --preview says what that would"
              + " change");
    }
    return drift(publisher.sketch(now.files()));
  }

  private static List<Drift> drift(Publisher.Sketch sketch) {
    List<Drift> all = new ArrayList<>();
    for (Document one : sketch.documents()) {
      Optional<Document> live = sketch.before().document(one.kind(), one.name());
      if (live.isEmpty()) {
        all.add(new Drift(one.kind(), one.name(), "withdrawn here"));
      } else if (!live.get().isSame(one)) {
        all.add(new Drift(one.kind(), one.name(), "changed here"));
      }
    }
    return all;
  }

  /**
   * Puts what was changed here back as a branch, for people to look at there.
   *
   * @return its commit
   * @throws Refused where nothing drifts, or a place cannot be found in the files
   */
  public synchronized String writeBack(String branch, AuditTrail.Actor actor, String reason) {
    if (!branch.matches("[A-Za-z0-9._/-]+")) {
      throw new NotUnderstood("\"" + branch + "\" is not a valid name of a branch");
    }
    SourceRow row = found();
    Repository.Snapshot now = snapshot(row);
    Publisher.Sketch sketch = publisher.sketch(now.files());
    Map<String, String> files = new LinkedHashMap<>();
    List<String> left = new ArrayList<>();
    for (Document one : sketch.documents()) {
      Optional<Document> live = sketch.before().document(one.kind(), one.name());
      if (one.made().filter(made -> made.isRow()).isPresent()
          || live.filter(one::isSame).isPresent()) {
        continue;
      }
      String text =
          files.getOrDefault(
              one.file(),
              now.files().stream()
                  .filter(file -> file.name().equals(one.file()))
                  .map(SourceFile::text)
                  .findFirst()
                  .orElse(""));
      if (live.isPresent() && text.contains(one.text())) {
        files.put(one.file(), text.replace(one.text(), live.get().text()));
      } else {
        left.add(one.kind().word() + " " + one.name());
      }
    }
    if (files.isEmpty()) {
      throw new Refused(
          left.isEmpty()
              ? "nothing differs: there is nothing to write back"
              : Shorten.names(left, MOST_NAMED)
                  + ": withdrawn here; take it out of the files there");
    }
    try {
      return repository(row)
          .writeBack(
              branch,
              files,
              actor.name(),
              reason.isEmpty() ? "As it is live: changed in Purser" : reason);
    } catch (Repository.Unreadable e) {
      throw new Refused(e.getMessage());
    }
  }
}
