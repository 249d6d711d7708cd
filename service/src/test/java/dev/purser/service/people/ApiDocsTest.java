package dev.purser.service.people;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** What docs/api.md says of addresses: none is left out, and none is made up. */
class ApiDocsTest {
  private static final Pattern IN_DOCS = Pattern.compile("`(?:[A-Z/]+ )?(/[^`?\\s]*)");
  private static final String API = "/api/v1";

  private static Set<String> addresses() {
    return WhoMay.RULES.stream()
        .map(rule -> rule.path().getPatternString().replace(API, ""))
        .collect(Collectors.toCollection(TreeSet::new));
  }

  private static String docs() throws IOException {
    return Files.readString(Path.of("../docs/api.md"));
  }

  @Test
  void everyAddressIsDocumented() throws IOException {
    String docs = docs();
    List<String> missing =
        WhoMay.RULES.stream()
            .map(rule -> rule.path().getPatternString())
            .filter(path -> path.startsWith(API) && !path.contains("/openapi"))
            .map(path -> path.replace(API, "").replace("/filters/{name}", "/filters"))
            .filter(path -> !docs.contains(path))
            .toList();
    assertThat(missing).isEmpty();
  }

  @Test
  void everyDocumentedAddressExists() throws IOException {
    Set<String> there = addresses();
    List<String> madeUp = new ArrayList<>();
    int found = 0;
    for (String line : docs().lines().filter(line -> line.startsWith("| `")).toList()) {
      Matcher one = IN_DOCS.matcher(line.split(" \\| ")[0]);
      while (one.find()) {
        found++;
        if (!there.contains(one.group(1))) {
          madeUp.add(one.group(1));
        }
      }
    }
    assertThat(madeUp).isEmpty();
    assertThat(found).isGreaterThan(60);
  }
}
