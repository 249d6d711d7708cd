package dev.purser.core.kind;

import dev.purser.core.definition.Document;
import dev.purser.core.job.OfStream;
import dev.purser.core.job.Work;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import java.util.Set;

/** {@code stream}: another stream, run as a step. */
public final class StreamKind implements WorkKind {
  @Override
  public String key() {
    return "stream";
  }

  @Override
  public String inWords() {
    return "another stream as a step";
  }

  @Override
  public Set<String> reads() {
    return Set.of(OfStream.KIND);
  }

  @Override
  public Happens happens() {
    return Happens.NOWHERE;
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may(key(), Keys.Form.TEXT, "Another stream, run as a step, instead of a command.");
  }

  @Override
  public Work read(JobFields job) {
    String inner = job.fields().text(key(), "");
    job.mention(key(), Document.What.STREAM, inner);
    return new OfStream(inner);
  }
}
