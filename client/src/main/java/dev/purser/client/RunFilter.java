package dev.purser.client;

import java.time.LocalDate;
import java.util.HashMap;
import java.util.Map;
import picocli.CommandLine;

/** Which runs are meant, where they are not named: the same options for looking and for acting. */
final class RunFilter {
  @CommandLine.Option(names = "--date", description = "Only runs of this business date.")
  private LocalDate date;

  @CommandLine.Option(
      names = "--stream",
      description = "Only runs of this stream and of everything in it.")
  private String stream;

  @CommandLine.Option(names = "--job", description = "Runs of this job.")
  private String job;

  @CommandLine.Option(
      names = "--state",
      description = "Only runs in this state, or in one of several: a,b.")
  private String state;

  @CommandLine.Option(names = "--host", description = "Only runs on this host.")
  private String host;

  @CommandLine.Option(names = "--department", description = "Only runs of this department.")
  private String department;

  @CommandLine.Option(names = "--tag", description = "Only runs with this tag.")
  private String tag;

  @CommandLine.Option(
      names = "--text",
      description = "Only runs with this text in their name or title; * stands for any text.")
  private String text;

  /** As a query of the API, to which more may be added; what is not said is null. */
  Map<String, Object> query() {
    Map<String, Object> query = new HashMap<>();
    query.put("date", date);
    query.put("stream", stream);
    query.put("job", job);
    query.put("state", state);
    query.put("host", host);
    query.put("department", department);
    query.put("tag", tag);
    query.put("text", text);
    return query;
  }
}
