package dev.purser.core.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.common.ScalarStyle;

/** Definitions changed as texts: only what is meant changes, and it reads as what was meant. */
class YamlTextTest {
  private static final String TEXT =
      """
      # what it is for
      stream: fuel/stock   # its name

      title: "Ström 🚢"
      schedule: { days: weekdays, at: ["05:00", "06:00"], zone: UTC }
      jobs:
        # first
        count: { host: quay, run: ./count.sh, usually: 4m }   # a flow one
        load:
          run: |
            one
              two

          # about the host
          host: depot
        last: { host: quay }
      # the end
      """;

  private static Object read(String yaml) {
    return new Load(LoadSettings.builder().build()).loadFromString(yaml);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          title                | 1
          schedule             | 1
          schedule/zone        | 1
          schedule/days        | 1
          schedule/at          | 1
          jobs/count           | 1
          jobs/count/host      | 1
          jobs/count/run       | 1
          jobs/count/usually   | 1
          jobs/load            | 7
          jobs/load/run        | 4
          jobs/load/host       | 1
          jobs/last/host       | 1
          jobs                 | 11
          """)
  void withoutAKeyAllOtherLinesStayAsTheyAre(String path, int lines) {
    List<String> keys = List.of(path.split("/"));
    String after = new YamlText(TEXT).without(keys).text();
    Map<String, Object> expected = copy(read(TEXT));
    remove(expected, keys);
    assertThat(read(after)).isEqualTo(expected);
    List<String> kept = new ArrayList<>(after.lines().toList());
    long changed = TEXT.lines().filter(line -> !kept.remove(line)).count();
    assertThat(changed).isLessThanOrEqualTo(lines);
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> copy(Object value) {
    Map<String, Object> out = new LinkedHashMap<>();
    ((Map<String, Object>) value)
        .forEach((k, v) -> out.put(k, v instanceof Map<?, ?> ? copy(v) : v));
    return out;
  }

  @SuppressWarnings("unchecked")
  private static void remove(Map<String, Object> map, List<String> keys) {
    if (keys.size() == 1) {
      map.remove(keys.get(0));
      return;
    }
    Map<String, Object> below = (Map<String, Object>) map.get(keys.get(0));
    remove(below, keys.subList(1, keys.size()));
    if (below.isEmpty()) {
      map.remove(keys.get(0));
    }
  }

  @Test
  void aPathIsFoundThoughKeysHaveDotsThemselves() {
    YamlText text = new YamlText("jobs: { v1.2: { host: a }, v1: { b: c } }\n");
    assertThat(text.pathOf("jobs.v1.2.host")).contains(List.of("jobs", "v1.2", "host"));
    assertThat(text.pathOf("jobs.v1.b")).contains(List.of("jobs", "v1", "b"));
    assertThat(text.pathOf("jobs.v2.b")).isEmpty();
  }

  @Test
  void whatIsNotThereIsNotTakenAway() {
    assertThat(new YamlText(TEXT).without(List.of("jobs", "none", "host")).text()).isEqualTo(TEXT);
    assertThat(new YamlText(TEXT).with(List.of("none"), "x").text()).isEqualTo(TEXT);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "plain",
        "two words",
        "07:30",
        "yes",
        "12",
        "a: b",
        "# no comment",
        "it's",
        "\"q\"",
        "line\nbreak",
        "- list",
        "${date - 1 month | yyyy}",
        "",
        " lead",
        "\u0007bell",
        "🚢",
        "null",
        "a]b",
        "{x",
        "*a",
        "&a",
        "!t",
        "%x",
        "@x",
        "`x",
        "a #b",
        "x,y",
        "ends:"
      })
  void aValueIsReadAsWhatWasMeant(String value) {
    for (ScalarStyle style :
        List.of(ScalarStyle.PLAIN, ScalarStyle.SINGLE_QUOTED, ScalarStyle.DOUBLE_QUOTED)) {
      Map<?, ?> read = (Map<?, ?>) read("{ k: " + YamlText.written(value, style) + " }");
      assertThat(read.get("k")).isEqualTo(value);
    }
    for (String path : List.of("title", "jobs/count/host", "jobs/load/host", "stream")) {
      List<String> keys = List.of(path.split("/"));
      YamlText after = new YamlText(TEXT).with(keys, value);
      assertThat(after.value(keys)).contains(value);
      assertThat(after.text()).contains("# what it is for", "# a flow one", "# the end");
    }
  }

  @Test
  void onlyAPlainValueIsPutInThePlaceOfOne() {
    assertThatThrownBy(() -> new YamlText(TEXT).with(List.of("jobs", "load"), "x"))
        .hasMessage("jobs.load is not a plain value");
  }
}
