package dev.purser.service.alert;

import dev.purser.service.output.OutputStore;
import dev.purser.service.run.RunRow;
import jakarta.persistence.EntityManager;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import org.springframework.stereotype.Component;

/** What the records say of the run that an alert is about. */
@Component
class RunFacts {
  private static final int LINES = 10;
  private static final int MOST = 2_000;

  private final EntityManager rows;
  private final OutputStore outputs;

  RunFacts(EntityManager rows, OutputStore outputs) {
    this.rows = rows;
    this.outputs = outputs;
  }

  Message.Of of(AlertRow alert) {
    RunRow run = alert.run == 0 ? null : rows.find(RunRow.class, alert.run);
    return run == null
        ? Message.Of.NONE
        : new Message.Of(
            run.stream + "/" + run.job,
            run.host,
            run.exitCode == null ? "" : "" + run.exitCode,
            run.attempts == 0 ? "" : lastLines(run.id, run.attempts));
  }

  private String lastLines(long run, int attempt) {
    long kept = outputs.read(run, attempt, 0, 0).kept();
    byte[] end = outputs.read(run, attempt, Math.max(0, kept - MOST), MOST).data();
    List<String> lines =
        Arrays.stream(new String(end, StandardCharsets.UTF_8).split("\\R"))
            .map(line -> line.replaceAll("\\p{Cntrl}", " ").stripTrailing())
            .filter(line -> !line.isEmpty())
            .toList();
    return String.join("\n", lines.subList(Math.max(0, lines.size() - LINES), lines.size()));
  }
}
