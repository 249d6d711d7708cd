package dev.purser.wire;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** Whatever one side says, the other understands the same. */
class MessagesTest {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private static final FromAgent.File BREAD =
      new FromAgent.File(
          "harbour-feed", "/srv/in", "*.csv", "bröd\n1.csv", 12, 13, "99", "ready", "", "ab12");
  private static final ToAgent.Task TASK =
      new ToAgent.Task(
          "harbour-feed",
          "/srv/in",
          "*.csv",
          true,
          10_000,
          1,
          "${file.name}.done",
          "${file.stem}.md5",
          "END*",
          5,
          false,
          6,
          0);

  static Stream<FromAgent> fromAgents() {
    FromAgent.Ended ended =
        new FromAgent.Ended(
            7, 2, "exited", 143, "", 5, 1_800_000_000_000L, Map.of("rows", "7"), null);
    return Stream.of(
        new FromAgent.Hello(
            1,
            "0.1.0",
            Set.of("quay"),
            5,
            3,
            FromAgent.Machine.UNKNOWN,
            List.of(new FromAgent.Known(7, 2, 9, true), new FromAgent.Known(8, 1, 0, false))),
        new FromAgent.Alive(9, new FromAgent.Machine(2, 0.5, 1, 2, 3, 4, 5)),
        new FromAgent.Began(7, 2, 11),
        ended,
        new FromAgent.Ended(7, 2, "lost", -1, "naïve “note”\n", 0, 12, Map.of(), null),
        new FromAgent.Found(3, List.of(BREAD)),
        new FromAgent.Trouble("harbour-feed", "/srv/in", "the directory does not exist"),
        new FromAgent.Tidied(4, true, "moved to /srv/done/bröd 1.csv"),
        new FromAgent.Tried("t1", List.of(BREAD), 2, List.of("no"), true),
        new FromAgent.Notified("alert-1-2", 9, "no “room”\n"),
        new FromAgent.Reached("r1", "Connection refused"));
  }

  @ParameterizedTest
  @MethodSource("fromAgents")
  void whatAnAgentSaysIsUnderstood(FromAgent message) {
    String text = JSON.writerFor(FromAgent.class).writeValueAsString(message);
    assertThat(JSON.readValue(text, FromAgent.class)).isEqualTo(message);
  }

  @Test
  void outputKeepsEveryByte() {
    byte[] bytes = new byte[256];
    for (int i = 0; i < bytes.length; i++) {
      bytes[i] = (byte) i;
    }
    FromAgent.Output output = new FromAgent.Output(7, 1, 64, bytes, true, 320);
    String text = JSON.writerFor(FromAgent.class).writeValueAsString(output);
    FromAgent.Output read = (FromAgent.Output) JSON.readValue(text, FromAgent.class);
    assertThat(read.data()).isEqualTo(bytes);
    assertThat(read.offset()).isEqualTo(64);
    assertThat(read.complete()).isTrue();
  }

  static Stream<ToAgent> toAgents() {
    return Stream.of(
        new ToAgent.Welcome("Purser", 3, 4),
        new ToAgent.Start(
            4,
            7,
            1,
            "echo 'a b' \"c\" \\d",
            "test -s x",
            "/tmp",
            "batch",
            Map.of("PURSER_DATE", "2027-03-04"),
            Map.of("KEY", "many\nlines"),
            10),
        new ToAgent.Stop(4, 7, 1, 10_000),
        new ToAgent.Recorded(7, 1, true),
        new ToAgent.OutputTaken(7, 1, 65_536, false),
        new ToAgent.Look(List.of(TASK)),
        new ToAgent.FoundTaken(
            3, List.of(new ToAgent.Done("harbour-feed", "/srv/in", "a\nb", 12, 13, "99"))),
        new ToAgent.Tidy(4, 5, "/srv/in/a b", 12, 13, "99", List.of("a b.done"), "/srv/done"),
        new ToAgent.Try("t1", List.of(TASK)),
        new ToAgent.Notify(4, "alert-1-2", "cat >&2", "app", "{\"title\": \"naïve\"}", 30_000),
        new ToAgent.Reach(4, "r1", "db.brannoch.example", 5432, true));
  }

  @ParameterizedTest
  @MethodSource("toAgents")
  void whatTheServiceSaysIsUnderstood(ToAgent message) {
    String text = JSON.writerFor(ToAgent.class).writeValueAsString(message);
    assertThat(JSON.readValue(text, ToAgent.class)).isEqualTo(message);
  }

  @Test
  void everyKindOfMessageIsAmongTheseTests() {
    assertThat(fromAgents().map(Object::getClass).distinct().count() + 1) // and output, above
        .isEqualTo(messagesOf(FromAgent.class) - 3); // known, machine and file are parts
    assertThat(toAgents().map(Object::getClass).distinct().count())
        .isEqualTo(messagesOf(ToAgent.class) - 2); // so are task and done
  }

  private static long messagesOf(Class<?> side) {
    return Arrays.stream(side.getDeclaredClasses()).filter(Class::isRecord).count();
  }

  @Test
  void aMessageOfAnUnknownKindIsRefusedAndNotTakenForAnother() {
    assertThatThrownBy(() -> JSON.readValue("{\"type\":\"explode\"}", ToAgent.class))
        .isInstanceOf(JacksonException.class);
    assertThatThrownBy(() -> JSON.readValue("{\"run\":7}", FromAgent.class))
        .isInstanceOf(JacksonException.class);
  }
}
