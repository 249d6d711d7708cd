package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.client.Purser;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.lang.reflect.Method;
import java.math.BigDecimal;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * The jar of the command line, whose libraries steps of the build have changed so that it starts
 * quickly, says and does what the classes say and do that it was made of.
 */
class ClientJarTest {
  private static final Pattern COMMAND =
      Pattern.compile("(?m)^  ([a-z][a-z-]*)(?:, [a-z-]+)?(?:  | *$)");
  private static final int FEWEST_COMMANDS = 100;

  private static URLClassLoader classes;
  private static Method run;

  @BeforeAll
  static void open() throws IOException, ReflectiveOperationException {
    try (Stream<Path> files = Files.list(Path.of("../client/target"))) {
      Path jar = files.filter(one -> one.toString().endsWith("-all.jar")).findFirst().orElseThrow();
      classes = new URLClassLoader(new URL[] {address(jar)}, ClassLoader.getPlatformClassLoader());
    }
    run =
        classes
            .loadClass("dev.purser.client.Purser")
            .getMethod("run", PrintWriter.class, PrintWriter.class, String[].class);
  }

  private static URL address(Path jar) throws MalformedURLException {
    return jar.toUri().toURL();
  }

  @AfterAll
  static void close() throws IOException {
    classes.close();
  }

  private static String ofTheJar(String... words) throws ReflectiveOperationException {
    StringWriter out = new StringWriter();
    PrintWriter to = new PrintWriter(out);
    return run.invoke(null, to, to, words) + "\n" + out;
  }

  private static String ofTheClasses(String... words) {
    StringWriter out = new StringWriter();
    PrintWriter to = new PrintWriter(out);
    return Purser.run(to, to, words) + "\n" + out;
  }

  @Test
  void helpOfEachCommandIsTheSame() throws ReflectiveOperationException {
    Deque<List<String>> open = new ArrayDeque<>(List.of(List.of()));
    int seen = 0;
    while (!open.isEmpty()) {
      List<String> words = open.pop();
      List<String> asked = new ArrayList<>(words);
      asked.add("--help");
      String help = ofTheClasses(asked.toArray(String[]::new));
      assertThat(ofTheJar(asked.toArray(String[]::new))).as(words.toString()).isEqualTo(help);
      seen++;
      int further = help.indexOf("Commands:");
      Matcher command = COMMAND.matcher(help);
      while (further >= 0 && command.find(further)) {
        further = command.end();
        List<String> next = new ArrayList<>(words);
        next.add(command.group(1));
        open.push(next);
      }
    }
    assertThat(seen).isGreaterThan(FEWEST_COMMANDS);
  }

  @ParameterizedTest
  @CsvSource({
    "days weekdays --from 2027-01-01 --to 2027-01-31",
    "days weekdays --from 2027-13-01",
    "days weekdays --form 2027-01-01",
    "check ../demo/world",
    "check ../demo/nowhere",
    "days weekdays --from 2027-01-01 --to 2027-01-31 -o json",
    "days weekdays --from 2027-01-01 --to 2027-01-31 -o CSV",
    "days weekdays -o picture",
    "alerts close",
    "alerts shut",
    "nonsense"
  })
  void answersAreTheSame(String words) throws ReflectiveOperationException {
    assertThat(ofTheJar(words.split(" "))).isEqualTo(ofTheClasses(words.split(" ")));
  }

  /** What the library for JSON reads as numbers, with the limits that it asks for late. */
  @ParameterizedTest
  @CsvSource({
    "12, java.lang.Long",
    "1.5e3, java.lang.Long",
    "1e30, java.lang.Long",
    "-9223372036854775808, java.lang.Long",
    "9223372036854775808, java.lang.Long",
    "3e9, java.lang.Integer",
    "2147483648, java.lang.Integer",
    "0.25, java.lang.Double",
    "0.1000000000000000000000000000000000001, java.math.BigDecimal"
  })
  void numbersAreReadAsEver(String number, String type) throws ReflectiveOperationException {
    assertThat(read(classes, number, type))
        .isEqualTo(read(getClass().getClassLoader(), number, type));
  }

  private static String read(ClassLoader from, String number, String type)
      throws ReflectiveOperationException {
    Class<?> mapper = from.loadClass("tools.jackson.databind.json.JsonMapper");
    Class<?> any = from.loadClass("tools.jackson.databind.ObjectMapper");
    try {
      return String.valueOf(
          any.getMethod("readValue", String.class, Class.class)
              .invoke(mapper.getConstructor().newInstance(), number, Class.forName(type)));
    } catch (java.lang.reflect.InvocationTargetException e) {
      return e.getCause().getClass() + ": " + e.getCause().getMessage();
    }
  }

  /** Decimal numbers of one token that is asked for in several ways, where the limits are met. */
  @ParameterizedTest
  @CsvSource({"1e9", "2147483647.0", "3e9", "1e18", "9.3e18", "-1e19"})
  void aDecimalNumberIsHeldAgainstLimits(String number) throws ReflectiveOperationException {
    assertThat(asked(classes, number)).isEqualTo(asked(getClass().getClassLoader(), number));
  }

  private static List<String> asked(ClassLoader from, String number)
      throws ReflectiveOperationException {
    Class<?> mapper = from.loadClass("tools.jackson.databind.json.JsonMapper");
    Class<?> parser = from.loadClass("tools.jackson.core.JsonParser");
    List<String> said = new ArrayList<>();
    for (String way : List.of("getIntValue", "getLongValue")) {
      Object one =
          from.loadClass("tools.jackson.databind.ObjectMapper")
              .getMethod("createParser", String.class)
              .invoke(mapper.getConstructor().newInstance(), number);
      parser.getMethod("nextToken").invoke(one);
      assertThat(parser.getMethod("getDecimalValue").invoke(one)).isEqualTo(new BigDecimal(number));
      try {
        said.add(String.valueOf(parser.getMethod(way).invoke(one)));
      } catch (java.lang.reflect.InvocationTargetException e) {
        said.add(Arrays.asList(e.getCause().getMessage().split("\n")).get(0));
      }
    }
    return said;
  }
}
