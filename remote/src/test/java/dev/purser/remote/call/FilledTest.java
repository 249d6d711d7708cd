package dev.purser.remote.call;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.remote.Request;
import dev.purser.remote.http.Outgoing;
import java.net.URI;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

class FilledTest {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final String[] HOSTILE = {
    "\"",
    "\\",
    "\n",
    "\0",
    "\u0007",
    "}",
    "]",
    ",",
    ":",
    "&",
    "=",
    "?",
    "#",
    "%",
    "%2e",
    "/",
    "..",
    "${x}",
    "$${x}",
    "<",
    "'",
    "é",
    "•",
    "\uD83D\uDE00",
    "\uD800",
    " ",
    "\r\nX-Evil: 1",
    "null",
    "7"
  };

  private static Request request(String path, Request.Body body) {
    return new Request("POST", path, Map.of("q", "${x}"), Map.of(), body);
  }

  private static String hostile(Random random) {
    StringBuilder text = new StringBuilder("v");
    for (int i = random.nextInt(8); i >= 0; i--) {
      text.append(HOSTILE[random.nextInt(HOSTILE.length)]);
    }
    return text.toString();
  }

  /** Whatever a value holds, it comes out as one string of JSON, and as one part of an address. */
  @RepeatedTest(200)
  void aValueStaysOneValue() {
    String value = hostile(new Random()).replace("\uD800", "");
    Filled filled = new Filled(Map.of("x", value));
    Request.Json body = new Request.Json(Map.of("a", List.of("<${x}>", 7), "b", true));
    Outgoing out = filled.of(request("/filings/${x}/log", body));
    JsonNode tree = JSON.readTree(out.body());
    assertThat(tree.size()).isEqualTo(2);
    assertThat(tree.get("a").get(0).asString()).isEqualTo("<" + value + ">");
    assertThat(tree.get("a").get(1).asInt()).isEqualTo(7);
    URI uri = URI.create("http://h" + out.path());
    assertThat(uri.getPath()).isEqualTo("/filings/" + value + "/log");
    assertThat(uri.getRawPath().chars().filter(c -> c == '/').count()).isEqualTo(3);
    assertThat(uri.getRawQuery()).doesNotContain("&").startsWith("q=");
    assertThat(uri.getFragment()).isNull();
  }

  @ParameterizedTest
  @ValueSource(strings = {"", ".", ".."})
  void nothingClimbsOutOfAPath(String value) {
    Filled filled = new Filled(Map.of("x", value));
    assertThatThrownBy(() -> filled.of(request("/a/${x}/b", new Request.None())))
        .isInstanceOf(Filled.CannotFill.class)
        .hasMessageContaining("cannot stand in the path");
  }

  @ParameterizedTest
  @ValueSource(strings = {"a\r\nX-Evil: 1", "a\nb", "ünter", "\0"})
  void nothingEndsTheLineOfAHeader(String value) {
    Request request =
        new Request("GET", "/", Map.of(), Map.of("X-Vessel", "${x}"), new Request.None());
    assertThatThrownBy(() -> new Filled(Map.of("x", value)).of(request))
        .isInstanceOf(Filled.CannotFill.class);
  }

  @ParameterizedTest
  @CsvSource({"312,312", "-1.50,-1.50", "'1,2',", "1e9,", "0x10,", "NaN,", "'',"})
  void aNumberIsANumberOrRefused(String value, String expected) {
    Request.Json body = new Request.Json(Map.of("n", Map.of(Request.AS_NUMBER, "${x}")));
    Filled filled = new Filled(Map.of("x", value));
    if (expected == null) {
      assertThatThrownBy(() -> filled.of(request("/", body)))
          .hasMessage("\"" + value + "\" is not a number");
    } else {
      assertThat(filled.of(request("/", body)).body()).isEqualTo("{\"n\":" + expected + "}");
    }
  }

  @ParameterizedTest
  @CsvSource({"yes,true", "no,false", "true,true", "1,"})
  void aFlagIsAFlagOrRefused(String value, String expected) {
    Request.Json body = new Request.Json(Map.of("n", Map.of(Request.AS_FLAG, "${x}")));
    Filled filled = new Filled(Map.of("x", value));
    if (expected == null) {
      assertThatThrownBy(() -> filled.of(request("/", body))).hasMessageContaining("yes nor no");
    } else {
      assertThat(filled.of(request("/", body)).body()).isEqualTo("{\"n\":" + expected + "}");
    }
  }

  @Test
  void aFormKeepsItsFields() {
    Outgoing out =
        new Filled(Map.of("x", "a=b&c=d")).of(request("/", new Request.Form(Map.of("f", "${x}"))));
    assertThat(out.body()).isEqualTo("f=a%3Db%26c%3Dd");
  }

  @Test
  void whatIsNotGivenIsNamed() {
    assertThatThrownBy(() -> new Filled(Map.of()).of(request("/${y}", new Request.None())))
        .hasMessageContaining("asks for ${y}");
  }
}
