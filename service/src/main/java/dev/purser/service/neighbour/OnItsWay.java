package dev.purser.service.neighbour;

import dev.purser.core.definition.Named;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.service.draft.DraftRow;
import dev.purser.service.draft.Drafts;
import dev.purser.service.source.GitSource;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** What is to be in force here and is not yet: drafts, and a commit that waits for a yes. */
@Component
public class OnItsWay {
  private static final int MOST_DRAFTS = 100;
  private static final int SHORT = 10;

  private final Drafts drafts;
  private final GitSource source;
  private final Map<Long, Read> read = new ConcurrentHashMap<>();

  OnItsWay(Drafts drafts, GitSource source) {
    this.drafts = drafts;
    this.source = source;
  }

  private record Read(long version, List<String> definitions) {}

  /**
   * One of them.
   *
   * @param what {@code draft 12} or {@code commit 1a2b3c4d5e}
   * @param liveFrom the business date from which it goes live by itself; null where it does not
   * @param definitions what is in it, as {@code stream fuel/stock-count}; empty where that is not
   *     known
   */
  public record Item(
      String what, String title, String who, LocalDate liveFrom, List<String> definitions) {}

  /** All that somebody may see; of drafts those that were changed last. */
  public List<Item> seenBy(String person) {
    List<Item> found = new ArrayList<>();
    commit().ifPresent(found::add);
    List<DraftRow> seen = drafts.of(person);
    seen.stream()
        .sorted(Comparator.comparing((DraftRow one) -> one.changed).reversed())
        .limit(MOST_DRAFTS)
        .map(this::item)
        .forEach(found::add);
    return found;
  }

  private Optional<Item> commit() {
    return source
        .named()
        .filter(row -> !row.head.isEmpty() && !row.head.equals(row.published))
        .map(
            row ->
                new Item(
                    "commit " + row.head.substring(0, Math.min(SHORT, row.head.length())),
                    row.headMessage,
                    row.headAuthor,
                    null,
                    List.of()));
  }

  private Item item(DraftRow draft) {
    return new Item(
        "draft " + draft.id, draft.title, draft.holder, draft.liveFrom, definitions(draft));
  }

  /** Read once for each saving. */
  private List<String> definitions(DraftRow draft) {
    Read known = read.get(draft.id);
    if (known == null || known.version() != draft.version) {
      List<String> names =
          DefinitionReader.read(drafts.files(draft.id)).documents().stream()
              .map(one -> Named.of(one).toString())
              .distinct()
              .sorted()
              .toList();
      known = new Read(draft.version, names);
      if (read.size() > 10 * MOST_DRAFTS) {
        read.clear();
      }
      read.put(draft.id, known);
    }
    return known.definitions();
  }
}
