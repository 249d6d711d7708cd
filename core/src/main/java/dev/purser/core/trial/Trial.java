package dev.purser.core.trial;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.edit.Copying;
import dev.purser.core.edit.YamlText;
import dev.purser.core.job.Job;
import dev.purser.core.prerequisite.Prerequisite;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * A try of a draft: a stream of its own under {@code trial/}, so that its runs count in no history,
 * prerequisite or commitment of the one that it tries, and it opens no alert.
 */
public final class Trial {
  /** What a try is without: what starts it by itself, and whom it would tell. */
  private static final List<String> LEFT_OUT =
      List.of("schedule", "starts-on", "paused", "owner", "alerts-to", "alerts", "places");

  private Trial() {}

  /**
   * The path of the try of a stream.
   *
   * @param draft the number of its draft
   */
  public static String path(long draft, String stream) {
    return Stream.TRIAL + draft + "/" + stream;
  }

  /**
   * The text of a stream as it is tried.
   *
   * @param path of the try
   * @param host where all its jobs run that run on hosts; empty for where they say
   * @param others what becomes of what it asks of other streams and of files
   */
  public static String text(Document document, String path, Optional<String> host, Others others) {
    Stream stream = (Stream) document.value();
    YamlText text = new YamlText(document.whole());
    for (String key : LEFT_OUT) {
      text = text.without(List.of(key));
    }
    Playing playing =
        new Playing(stream.jobs().stream().map(Job::name).collect(Collectors.toSet()));
    for (Job job : stream.jobs()) {
      List<String> at = List.of("jobs", job.name());
      text = host.isPresent() ? withHost(text, at, host.get()) : text;
      text = text.without(List.of("jobs", job.name(), "alerts"));
      if (others != Others.WAITED_FOR && job.waitsFor().isPresent()) {
        Function<Prerequisite, Optional<Prerequisite>> instead =
            others == Others.PLAYED ? playing::instead : any -> Optional.empty();
        text = within(text, at, stream, job.waitsFor().get(), instead);
      }
    }
    text = playing.in(text);
    return Copying.ofStream(text, document.name(), path);
  }

  private static YamlText withHost(YamlText text, List<String> job, String host) {
    List<String> key = List.of(job.get(0), job.get(1), "host");
    return text.value(key).isPresent() ? text.with(key, host) : text;
  }

  private static YamlText within(
      YamlText text,
      List<String> job,
      Stream stream,
      Prerequisite waitsFor,
      Function<Prerequisite, Optional<Prerequisite>> instead) {
    List<String> key = List.of(job.get(0), job.get(1), "waits-for");
    Optional<Prerequisite> left =
        Leaving.replaced(
            waitsFor, leaf -> isOwn(leaf, stream) ? Optional.of(leaf) : instead.apply(leaf));
    if (left.equals(Optional.of(waitsFor))) {
      return text;
    }
    return left.isPresent() ? text.with(key, left.get().toString()) : text.without(key);
  }

  private static boolean isOwn(Prerequisite leaf, Stream stream) {
    return leaf.targets().stream()
        .findFirst()
        .filter(target -> target.isSameDate())
        .map(target -> Definitions.resolve(target.name(), stream.path()))
        .filter(path -> path.startsWith(stream.path() + "/"))
        .isPresent();
  }
}
