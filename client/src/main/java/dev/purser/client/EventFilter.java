package dev.purser.client;

import java.util.LinkedHashMap;
import java.util.Map;
import picocli.CommandLine;

/** Which events are wanted; nothing said of something is any. */
final class EventFilter {
  @CommandLine.Option(
      names = "--department",
      defaultValue = "",
      description = "Only of this department.")
  private String department;

  @CommandLine.Option(
      names = "--stream",
      defaultValue = "",
      description = "Only of this stream and those below it.")
  private String stream;

  @CommandLine.Option(
      names = "--kind",
      defaultValue = "",
      description = "Only of this kind of alert, or state of a run or file.")
  private String kind;

  /** What is asked of the service for those after a number. */
  Map<String, Object> after(long number) {
    Map<String, Object> asked = new LinkedHashMap<>();
    asked.put("after", number);
    asked.put("department", department);
    asked.put("stream", stream);
    asked.put("kind", kind);
    return asked;
  }
}
