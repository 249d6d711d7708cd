package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.FromTemplates;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/** Holds definitions against each other: names that must exist, circles, rules that never pick. */
public final class DefinitionCheck {
  private final Definitions all;
  private final List<Problem> problems = new ArrayList<>();

  private DefinitionCheck(Definitions all) {
    this.all = all;
  }

  /**
   * What checking found.
   *
   * @param definitions what would be defined afterwards
   * @param problems in reading order; with an error among them nothing may be published
   */
  public record Result(Definitions definitions, List<Problem> problems) {
    /** Whether the definitions may be published. */
    public boolean isSound() {
      return problems.stream().noneMatch(Problem::isError);
    }
  }

  /**
   * Reads files and checks them together with what is defined already.
   *
   * @param existing what is defined already
   * @param today from which rules are looked at
   */
  public static Result check(Definitions existing, List<SourceFile> files, LocalDate today) {
    DefinitionReader.Reading reading = DefinitionReader.read(files);
    return check(existing, reading, today);
  }

  /** Checks what was read, its templates filled, together with what is defined already. */
  public static Result check(Definitions existing, DefinitionReader.Reading read, LocalDate today) {
    DefinitionReader.Reading reading = FromTemplates.filled(read, existing);
    Definitions merged = existing.with(reading.documents(), reading.gone());
    DefinitionCheck check = new DefinitionCheck(merged);
    check.problems.addAll(reading.problems());
    check.twice(reading.documents());
    check.stillUsed(existing, merged, reading.gone());
    check.look(existing, reading, today);
    return new Result(merged, check.problems.stream().sorted(Problem.IN_READING_ORDER).toList());
  }

  /**
   * Each look rests on what the looks before it have found sound: a definition with an error, or
   * one that leans on such a definition, is left out by the later ones. All others are looked at to
   * the end, so that everything is told at once.
   */
  private void look(Definitions existing, DefinitionReader.Reading reading, LocalDate today) {
    List<Document> streams = documentsToLookAt(reading);
    Sound sound = new Sound(all, streams, reading.broken());
    NameCheck names = new NameCheck(all, problems);
    Set<String> brokenNames = NameCheck.namesOf(reading.broken());
    streams.forEach(document -> names.of(document, brokenNames));
    List<Document> documents = sound.of(reading.documents(), problems);
    CircleCheck circles = new CircleCheck(all, problems);
    circles.ofCalendars(documents);
    circles.ofSteps(documents);
    documents = sound.of(documents, problems);
    problems.addAll(new StepCheck(all).of(documents));
    new ShellCheck(all, problems).of(sound.of(streams, problems));
    documents = sound.of(documents, problems);
    circles.ofPrerequisites(documents);
    documents = sound.of(documents, problems);
    DayCheck days = new DayCheck(all, today, problems);
    documents.forEach(document -> days.windows(document, existing));
    documents.forEach(days::days);
    new CapacityCheck(all, problems).of(documents);
    new AlertCheck(all, problems).of(documents);
    new TellingCheck(all, today, problems).of(documents);
    new AlertStartCheck(all, problems).of(sound.of(documents, problems));
    new DoubtCheck(all, problems).of(documents);
    new PrerequisiteCheck(all, problems).of(documents);
    new CommitmentCheck(all, today, problems).of(sound.of(documents, problems));
  }

  /**
   * Everything that mentions a definition.
   *
   * @return user names as they stand in mentions (a stream, a job by its full path, a calendar), in
   *     order; empty where it may be withdrawn
   */
  public static Collection<String> usersOf(Definitions definitions, Kind kind, String name) {
    Set<String> users = new TreeSet<>();
    Uses.in(definitions).of(new Named(kind, name)).forEach(use -> users.add(use.where()));
    return users;
  }

  /**
   * What some definitions name and is not there, in words: {@code host quay-9}. Placeholders do not
   * count.
   */
  public static List<String> missing(Definitions all, Collection<Document> documents) {
    Set<String> missing = new TreeSet<>();
    for (Document document : documents) {
      for (Document.Mention mention : document.mentions()) {
        if (mention.what() != Document.What.PARAMETER && !NameCheck.exists(all, mention)) {
          missing.add(NameCheck.title(mention.what()) + " " + mention.name());
        }
      }
    }
    return List.copyOf(missing);
  }

  /** What is wrong with a name; empty where it stands for something. */
  public static Optional<String> unknown(Definitions all, Document.What what, String name) {
    Document.Mention mention = new Document.Mention(what, name, "", "", 0, 0);
    return NameCheck.exists(all, mention)
        ? Optional.empty()
        : Optional.of(
            "there is no "
                + NameCheck.title(what)
                + " \""
                + name
                + "\""
                + Nearest.hint(name, new NameCheck(all, List.of()).candidates(mention)));
  }

  /** What a table made once and does not make any more must not be missed. */
  private void stillUsed(Definitions existing, Definitions merged, List<Document> gone) {
    if (gone.isEmpty()) {
      return;
    }
    for (Document document : merged.documents()) {
      for (Document.Mention mention : document.mentions()) {
        if (NameCheck.exists(existing, mention) && !NameCheck.exists(merged, mention)) {
          problems.add(
              document.error(
                  mention,
                  "\""
                      + mention.name()
                      + "\" would be gone, since no row makes it any more, and "
                      + mention.user()
                      + " still uses it"));
        }
      }
    }
  }

  private void twice(List<Document> documents) {
    Map<String, Document> seen = new HashMap<>();
    for (Document document : documents) {
      Document first = seen.putIfAbsent(document.kind() + " " + document.name(), document);
      if (first != null) {
        problems.add(
            Problem.error(
                document.file(),
                document.line(),
                1,
                "the "
                    + document.kind().title()
                    + " \""
                    + document.name()
                    + "\" is defined twice; first in "
                    + first.file()
                    + " line "
                    + first.line()));
      }
    }
  }

  /** What was read; and all streams, where values that they may lean on were read. */
  private List<Document> documentsToLookAt(DefinitionReader.Reading reading) {
    List<Document> documents = new ArrayList<>(reading.documents());
    if (documents.stream().anyMatch(document -> document.kind() == Kind.PARAMETERS)) {
      Set<String> read =
          documents.stream().map(Document::name).collect(Collectors.toCollection(HashSet::new));
      for (String name : all.names(Kind.STREAM)) {
        if (!read.contains(name)) {
          documents.add(all.document(Kind.STREAM, name).orElseThrow());
        }
      }
    }
    return documents;
  }
}
