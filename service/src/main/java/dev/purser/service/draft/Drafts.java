package dev.purser.service.draft;

import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.SiteClock;
import dev.purser.service.board.Engine;
import dev.purser.service.people.People;
import dev.purser.service.people.PersonRow;
import dev.purser.service.people.Role;
import jakarta.persistence.EntityManager;
import jakarta.persistence.LockModeType;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Drafts: kept for whoever writes them, seen by those they are shared with. */
@Component
@Transactional
public class Drafts {
  /** Characters of all files of a draft: more is published as files, or carried as a parcel. */
  static final long LONGEST = 4_000_000;

  private static final String EVERYBODY = "everybody";

  private final EntityManager rows;
  private final People people;
  private final Engine engine;
  private final SiteClock siteClock;
  private final Clock clock;

  Drafts(EntityManager rows, People people, Engine engine, SiteClock siteClock, Clock clock) {
    this.rows = rows;
    this.people = people;
    this.engine = engine;
    this.siteClock = siteClock;
    this.clock = clock;
  }

  /** Something that cannot be done to a draft as it stands; says whose it is and what would do. */
  public static final class Refused extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Refused(String message) {
      super(message);
    }
  }

  /** Those that somebody may see, in the order in which they were begun. */
  @Transactional(readOnly = true)
  public List<DraftRow> of(String person) {
    return rows
        .createQuery("from DraftRow d order by d.id", DraftRow.class)
        .getResultList()
        .stream()
        .filter(draft -> maySee(draft, person))
        .toList();
  }

  /** One that somebody may see; to all others it is not there. */
  @Transactional(readOnly = true)
  public Optional<DraftRow> one(long id, String person) {
    return Optional.ofNullable(rows.find(DraftRow.class, id))
        .filter(draft -> maySee(draft, person));
  }

  /** The files of one, in their order. */
  @Transactional(readOnly = true)
  public List<SourceFile> files(long id) {
    return rows
        .createQuery(
            "from DraftFileRow f where f.draft = :id order by f.position", DraftFileRow.class)
        .setParameter("id", id)
        .getResultList()
        .stream()
        .map(file -> new SourceFile(file.name, file.text))
        .toList();
  }

  private boolean maySee(DraftRow draft, String person) {
    List<String> shared = draft.sharedWith();
    Optional<Role> role = people.byName(person).flatMap(row -> Role.of(row.role));
    return draft.owner.equals(person)
        || draft.holder.equals(person)
        || shared.contains(person)
        || shared.contains(EVERYBODY)
        || role.filter(one -> one == Role.ADMINISTRATOR || shared.contains(one.word() + "s"))
            .isPresent();
  }

  /** Begins one. */
  public DraftRow begin(String title, List<SourceFile> files, String person) {
    check(title, files);
    DraftRow draft = new DraftRow();
    draft.owner = person;
    draft.holder = person;
    draft.created = clock.instant();
    write(draft, title, person);
    rows.persist(draft);
    replace(draft.id, files);
    return draft;
  }

  /**
   * Saves one. What somebody agreed to before is not agreed to any more.
   *
   * @param version that its writer changed; another is there where it was saved elsewhere
   * @param looked whether its writer has looked at what is in force now
   */
  public DraftRow save(
      long id, long version, String title, List<SourceFile> files, boolean looked, String person) {
    check(title, files);
    DraftRow draft = held(id, person);
    if (draft.version != version) {
      throw new Refused(
          "draft "
              + id
              + " was saved by "
              + draft.changedBy
              + " after you opened it (version "
              + draft.version
              + ", you have "
              + version
              + "); open it again, or save yours as another draft");
    }
    long seen = draft.seen;
    write(draft, title, person);
    draft.seen = looked ? draft.seen : seen;
    replace(id, files);
    return draft;
  }

  private void write(DraftRow draft, String title, String person) {
    draft.title = title.strip();
    draft.changed = clock.instant();
    draft.changedBy = person;
    draft.version++;
    draft.seen = engine.revision();
    draft.asked = null;
    draft.agreed = null;
    stays(draft);
  }

  private static void stays(DraftRow draft) {
    draft.liveFrom = null;
    draft.liveTrouble = "";
  }

  private static void check(String title, List<SourceFile> files) {
    if (title.isBlank() || title.strip().length() > 300) {
      throw new NotUnderstood("a draft needs a title of at most 300 characters");
    }
    if (files.isEmpty()) {
      throw new NotUnderstood("a draft needs a file");
    }
    if (files.stream().mapToLong(file -> file.text().length()).sum() > LONGEST) {
      throw new NotUnderstood(
          "a draft has at most " + LONGEST + " characters; publish files, or make smaller ones");
    }
  }

  private void replace(long id, List<SourceFile> files) {
    rows.createQuery("delete from DraftFileRow f where f.draft = :id")
        .setParameter("id", id)
        .executeUpdate();
    for (int i = 0; i < files.size(); i++) {
      DraftFileRow file = new DraftFileRow();
      file.draft = id;
      file.position = i;
      file.name = files.get(i).name();
      file.text = files.get(i).text();
      rows.persist(file);
    }
  }

  private DraftRow seen(long id, String person) {
    DraftRow draft = rows.find(DraftRow.class, id, LockModeType.PESSIMISTIC_WRITE);
    if (draft == null || !maySee(draft, person)) {
      throw new NotUnderstood(
          "there is no draft " + id + "; purser drafts lists those you may see");
    }
    return draft;
  }

  private DraftRow held(long id, String person) {
    DraftRow draft = seen(id, person);
    if (!draft.holder.equals(person)) {
      throw new Refused(
          "draft "
              + id
              + " is with "
              + draft.holder
              + ", who last saved it at "
              + siteClock.at(draft.changed)
              + "; take it over, or copy it");
    }
    return draft;
  }

  /** Whoever takes it over writes it from now on. */
  public DraftRow takeOver(long id, String person) {
    DraftRow draft = seen(id, person);
    draft.holder = person;
    return draft;
  }

  /** The same as a draft of somebody's own. */
  public DraftRow copy(long id, String person) {
    DraftRow draft = seen(id, person);
    DraftRow copy = begin("Copy of " + Shorten.text(draft.title, 280), files(id), person);
    copy.seen = draft.seen;
    return copy;
  }

  /**
   * Shares it anew.
   *
   * @param with names of people, {@code everybody}, or roles in the plural: {@code authors}
   */
  public DraftRow share(long id, List<String> with, String person) {
    DraftRow draft = held(id, person);
    List<String> known = new ArrayList<>(List.of(EVERYBODY));
    Role.words().forEach(word -> known.add(word + "s"));
    people.all().stream().map((PersonRow one) -> one.name).forEach(known::add);
    for (String name : with) {
      if (!known.contains(name)) {
        throw new NotUnderstood(
            "there is nobody named \"" + name + "\"" + Nearest.hint(name, known));
      }
    }
    draft.shared = String.join("\n", with.stream().distinct().toList());
    return draft;
  }

  /** Asks others to agree to it. */
  public DraftRow ask(long id, String reason, String person) {
    DraftRow draft = held(id, person);
    draft.asked = clock.instant();
    draft.askedBy = person;
    draft.askReason = reason;
    return draft;
  }

  /**
   * Agrees to it as it is.
   *
   * @param version that was looked at
   */
  public DraftRow agree(long id, long version, String person) {
    DraftRow draft = seen(id, person);
    if (draft.changedBy.equals(person)) {
      throw new Refused("you saved draft " + id + " yourself: somebody else must agree to it");
    }
    if (draft.version != version) {
      throw new Refused(
          "draft " + id + " was saved again after you looked at it: look at it as it is now");
    }
    draft.agreed = clock.instant();
    draft.agreedBy = person;
    draft.agreedVersion = draft.version;
    return draft;
  }

  /** Those that go live by themselves. */
  @Transactional(readOnly = true)
  public List<DraftRow> toCome() {
    return rows.createQuery(
            "from DraftRow d where d.liveFrom is not null order by d.id", DraftRow.class)
        .getResultList();
  }

  /** It goes live by itself from a business date on. */
  void toCome(long id, LocalDate from, String person, String reason) {
    DraftRow draft = seen(id, person);
    draft.liveFrom = from;
    draft.liveBy = person;
    draft.liveReason = Shorten.text(reason, 1_000);
    draft.liveTrouble = "";
  }

  /** Notes what is in the way of that. */
  void trouble(long id, String text) {
    DraftRow draft = rows.find(DraftRow.class, id);
    if (draft != null) {
      draft.liveTrouble = text;
    }
  }

  /** It does not go live by itself any more. */
  public DraftRow stay(long id, String person) {
    DraftRow draft = seen(id, person);
    if (draft.liveFrom == null) {
      throw new Refused("draft " + id + " does not go live by itself");
    }
    stays(draft);
    return draft;
  }

  /** Notes that it is tried; the number of the try. */
  int tried(long id, String person) {
    DraftRow draft = seen(id, person);
    return ++draft.trials;
  }

  /** Throws it away. */
  public DraftRow drop(long id, String person) {
    DraftRow draft = held(id, person);
    gone(draft.id);
    return draft;
  }

  /** It is published: its files are in force. */
  void gone(long id) {
    replace(id, List.of());
    rows.createQuery("delete from DraftRow d where d.id = :id")
        .setParameter("id", id)
        .executeUpdate();
  }
}
