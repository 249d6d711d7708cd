package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.ArrivalState;
import dev.purser.core.arrival.Finding;
import dev.purser.core.arrival.Ledger;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;

/** What is known of files that are found: on record already, seen by other watches, come again. */
final class KnownFiles {
  private static final int MOST_REMEMBERED = 20_000;

  private final ArrivalRecords records;

  /** Files that are over, of late: those of the turn under way are not on record yet. */
  private final Map<String, Arrival> lately =
      new LinkedHashMap<>() {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Arrival> eldest) {
          return size() > MOST_REMEMBERED;
        }
      };

  KnownFiles(ArrivalRecords records) {
    this.records = records;
  }

  void forget() {
    lately.clear();
  }

  /** A file is over: it may be found again before that is on record. */
  void over(Arrival one) {
    lately.put(one.watch() + ArrivalRecords.identity(one), one);
  }

  /** What is known of each of the findings at a place, asked of the records at once. */
  Function<Finding, Ledger.Known> of(String place, List<Finding> findings) {
    Map<String, List<Arrival>> same = records.byIdentity(identities(place, findings));
    Map<String, List<Arrival>> repeated = repeated(findings);
    return finding -> known(place, finding, same, repeated);
  }

  private static Set<String> identities(String place, List<Finding> findings) {
    Set<String> identities = new HashSet<>();
    for (Finding one : findings) {
      identities.add(identity(place, one, one.key()));
      identities.add(identity(place, one, "")); // as files were known before they had a key
    }
    return identities;
  }

  private static String identity(String place, Finding one, String key) {
    return ArrivalRecords.identity(place, one.path(), one.size(), one.modified(), key);
  }

  private Map<String, List<Arrival>> repeated(List<Finding> findings) {
    Map<String, Set<String>> wanted = new TreeMap<>();
    for (Finding one : findings) {
      if (one.state() == Finding.State.READY && !one.checksum().isEmpty()) {
        wanted.computeIfAbsent(one.watch(), any -> new HashSet<>()).add(one.checksum());
      }
    }
    Map<String, List<Arrival>> found = new HashMap<>();
    wanted.forEach((watch, sums) -> found.put(watch, records.byContent(watch, sums)));
    return found;
  }

  private Ledger.Known known(
      String place,
      Finding finding,
      Map<String, List<Arrival>> same,
      Map<String, List<Arrival>> repeated) {
    String identity = identity(place, finding, finding.key());
    List<Arrival> all = new ArrayList<>(same.getOrDefault(identity, List.of()));
    all.addAll(same.getOrDefault(identity(place, finding, ""), List.of()));
    Arrival late = lately.get(finding.watch() + identity);
    if (late != null) {
      all.add(late);
    }
    Optional<Arrival> own =
        all.stream()
            .filter(one -> one.watch().equals(finding.watch()))
            .reduce((earlier, later) -> later);
    Optional<String> elsewhere =
        all.stream()
            .filter(one -> !one.watch().equals(finding.watch()))
            .filter(one -> one.state() != ArrivalState.IGNORED)
            .map(Arrival::watch)
            .findFirst();
    Optional<Arrival> before =
        repeated.getOrDefault(finding.watch(), List.of()).stream()
            .filter(one -> one.checksum().equals(finding.checksum()))
            .filter(one -> one.name().equals(finding.name()) && one.size() == finding.size())
            .filter(one -> !ArrivalRecords.identity(one).equals(identity))
            .reduce((earlier, later) -> later);
    return new Ledger.Known(own, elsewhere, before);
  }
}
