package dev.purser.service.parcel;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.parcel.NameMap;
import dev.purser.core.parcel.Packing;
import dev.purser.core.parcel.ParcelOrigin;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.FromTemplates;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.Settings;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Packs definitions of this environment, and takes in those of others. */
@Component
public class Parcels {
  private static final int SHOWN_OF_SUM = 12;
  private static final DateTimeFormatter MINUTE =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm").withZone(ZoneOffset.UTC);

  private final Engine engine;
  private final Publisher publisher;
  private final ParcelKeys keys;
  private final Settings settings;
  private final Clock clock;

  Parcels(Engine engine, Publisher publisher, ParcelKeys keys, Settings settings, Clock clock) {
    this.engine = engine;
    this.publisher = publisher;
    this.keys = keys;
    this.settings = settings;
    this.clock = clock;
  }

  /**
   * A parcel, and what it says of itself.
   *
   * @param signedBy of those that this service trusts; empty for none
   * @param sum SHA-256 of the whole
   */
  public record Parcel(
      byte[] bytes,
      String from,
      Instant packed,
      String packedBy,
      long revision,
      List<String> definitions,
      List<String> expects,
      String signedBy,
      String sum) {}

  /**
   * Packs what is in force here.
   *
   * @param withNeeds whether what they use goes too
   * @throws NotUnderstood where something is not there, or there is no key to sign with
   */
  public Parcel pack(
      Collection<Named> wanted, boolean withNeeds, boolean signed, AuditTrail.Actor actor) {
    long revision = engine.revision();
    Definitions all = engine.definitions();
    if (wanted.isEmpty()) {
      throw new NotUnderstood("name at least one stream to be packed");
    }
    for (Named one : wanted) {
      if (all.document(one.kind(), one.name()).isEmpty()) {
        throw new NotUnderstood(
            "there is no "
                + one.kind().title()
                + " "
                + one.name()
                + Nearest.hint(one.name(), all.names(one.kind())));
      }
    }
    Packing.Packed packed = Packing.pack(all, wanted, withNeeds);
    Map<String, String> texts = new LinkedHashMap<>();
    List<Manifest.Content> contents = new ArrayList<>();
    for (Document document : packed.documents()) {
      String file = "definitions/" + document.kind().word() + "/" + document.name() + ".yaml";
      texts.put(file, document.text());
      contents.add(
          new Manifest.Content(
              document.kind().word(),
              document.name(),
              file,
              ParcelZip.sum(document.text().getBytes(StandardCharsets.UTF_8))));
    }
    Manifest manifest =
        new Manifest(
            Manifest.FORMAT,
            Manifest.OWN_VERSION,
            settings.environment(),
            revision,
            actor.name(),
            clock.instant(),
            contents,
            packed.expected().stream().map(Named::toString).toList());
    byte[] bytes = ParcelZip.pack(manifest, texts, signed ? Optional.of(keys) : Optional.empty());
    return about(manifest, bytes, "");
  }

  private static Parcel about(Manifest manifest, byte[] bytes, String signedBy) {
    return new Parcel(
        bytes,
        manifest.from(),
        manifest.packed(),
        manifest.packedBy(),
        manifest.revision(),
        manifest.contents().stream().map(one -> one.kind() + " " + one.name()).toList(),
        manifest.expects() == null ? List.of() : manifest.expects(),
        signedBy,
        ParcelZip.sum(bytes));
  }

  /**
   * A parcel that was opened, and what it would change here.
   *
   * @param missing what its definitions name and is not here: {@code host quay-9}
   */
  public record Looked(Parcel about, List<String> missing, Publisher.Previewed previewed) {}

  /**
   * What taking a parcel in would change.
   *
   * @param map what is called otherwise here
   * @throws NotUnderstood where it is no parcel, was changed, or the map has a gap
   */
  public Looked look(byte[] bytes, String map, int days) {
    ParcelZip.Opened opened = ParcelZip.open(bytes, keys);
    Publisher.Change change = change(opened, bytes, map);
    Definitions here = engine.definitions();
    DefinitionReader.Reading reading =
        FromTemplates.filled(DefinitionReader.read(change.files()), here);
    Definitions after = here.with(reading.documents());
    return new Looked(
        about(opened.manifest(), bytes, opened.signedBy().orElse("")),
        DefinitionCheck.missing(after, reading.documents()),
        publisher.preview(change, days));
  }

  /**
   * What a parcel says of itself.
   *
   * @throws NotUnderstood where it is no parcel, or was changed
   */
  public Parcel opened(byte[] bytes) {
    ParcelZip.Opened opened = ParcelZip.open(bytes, keys);
    return about(opened.manifest(), bytes, opened.signedBy().orElse(""));
  }

  /** Whether this service takes only parcels that somebody has signed whom it trusts. */
  public boolean areSignaturesWanted() {
    return keys.areWanted();
  }

  /**
   * Checks a map by itself.
   *
   * @throws NotUnderstood where it is not a map, or leads to what is not here
   */
  public void checkMap(String map) {
    refuseGap(NameMap.read(map), engine.definitions());
  }

  /** Texts of another environment with the names that things have here. */
  public Map<Named, String> namedAsHere(Map<Named, String> texts, String map) {
    NameMap names = NameMap.read(map);
    if (names.isEmpty()) {
      return texts;
    }
    List<SourceFile> files = new ArrayList<>();
    texts.forEach((named, text) -> files.add(new SourceFile(named.toString(), text)));
    Iterator<SourceFile> mapped = mapped(files, names, engine.definitions()).iterator();
    Map<Named, String> out = new LinkedHashMap<>();
    texts.keySet().forEach(named -> out.put(named, mapped.next().text()));
    return out;
  }

  /** Takes a parcel in: all of it, or nothing. */
  public Publisher.Outcome take(
      byte[] bytes, String map, Optional<Long> seen, AuditTrail.Actor actor, String reason) {
    ParcelZip.Opened opened = ParcelZip.open(bytes, keys);
    return publisher.publish(change(opened, bytes, map), seen, actor, reason);
  }

  private Publisher.Change change(ParcelZip.Opened opened, byte[] bytes, String map) {
    NameMap names = NameMap.read(map);
    Definitions here = engine.definitions();
    List<SourceFile> files = new ArrayList<>();
    opened.texts().forEach((name, text) -> files.add(new SourceFile(name, text)));
    List<SourceFile> mapped = names.isEmpty() ? files : mapped(files, names, here);
    refuseGap(names, here.with(DefinitionReader.read(mapped).documents()));
    Manifest manifest = opened.manifest();
    String origin =
        new ParcelOrigin(manifest.from(), manifest.revision()).inWords()
            + " (packed by "
            + manifest.packedBy()
            + ", "
            + MINUTE.format(manifest.packed())
            + " UTC"
            + opened.signedBy().map(who -> ", signed by " + who).orElse("")
            + ", sum "
            + ParcelZip.sum(bytes).substring(0, SHOWN_OF_SUM)
            + ")";
    return new Publisher.Change(mapped, List.of(), origin);
  }

  /** The files with the names that things have here. */
  private static List<SourceFile> mapped(List<SourceFile> files, NameMap names, Definitions here) {
    DefinitionReader.Reading all = FromTemplates.filled(DefinitionReader.read(files), here);
    List<SourceFile> out = new ArrayList<>();
    for (SourceFile file : files) {
      String text = file.text();
      Optional<Document> found =
          all.documents().stream()
              .filter(one -> one.file().equals(file.name()))
              .min(Comparator.comparingInt(Document::line)); // a table before its rows
      if (found.isPresent()) {
        Document document = found.get();
        List<Document> made =
            all.documents().stream().filter(one -> isMadeOf(one, document)).toList();
        text = names.in(document, made);
      }
      out.add(new SourceFile(file.name(), text));
    }
    return out;
  }

  private static boolean isMadeOf(Document one, Document source) {
    return one.made().isPresent()
        && (one.equals(source)
            || one.isMadeBy(source.kind() == Kind.FOR_EACH ? source.name() : "\0")
            || (source.kind() == Kind.TEMPLATE
                && one.made().get().templates().contains(source.name())));
  }

  /** What the map leads to must be here. */
  private static void refuseGap(NameMap names, Definitions here) {
    names
        .targets()
        .forEach(
            (what, targets) -> {
              for (String target : targets) {
                DefinitionCheck.unknown(here, what, target)
                    .ifPresent(
                        why -> {
                          throw new NotUnderstood("the map leads to what is not here: " + why);
                        });
              }
            });
  }
}
