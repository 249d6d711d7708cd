package dev.purser.core.kind;

import dev.purser.core.check.KnownNames;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Work;
import dev.purser.core.problem.Nearest;
import dev.purser.core.reading.Fields;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.remote.RemoteService;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** {@code call}: an operation of a remote service. */
public final class CallKind implements WorkKind {
  private static final Pattern CALL =
      Pattern.compile("(follow )?([a-z0-9][a-z0-9._-]{0,99}) of ([a-z0-9][a-z0-9._-]{0,99})");
  private static final Duration EVERY = Duration.ofSeconds(10);
  private static final Duration GROWING_TO = Duration.ofMinutes(1);
  private static final Duration LOOKS_BACK = Duration.ofDays(7);

  @Override
  public String key() {
    return "call";
  }

  @Override
  public String inWords() {
    return "an operation of a remote service";
  }

  @Override
  public Set<String> reads() {
    return Set.of(Call.KIND);
  }

  @Override
  public Happens happens() {
    return Happens.IN_SERVICE;
  }

  @Override
  public Set<String> alsoTakes() {
    return Set.of("host");
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may(
            key(),
            Keys.Form.TEXT,
            "What a remote service is asked for: OPERATION of SERVICE; or follow OPERATION of"
                + " SERVICE.")
        .may("id", Keys.Form.TEXT, "Of a follow: the remote's id; the latest by default.")
        .may("every", Keys.Form.DURATION, "How long after a look the next one comes; 10s.")
        .may("growing-to", Keys.Form.DURATION, "Each wait is longer than the last, up to this; 1m.")
        .may(
            "bears-outage",
            Keys.Form.DURATION,
            "How long the service may be away; as its connection says.")
        .may(
            "unless-running",
            Keys.Form.TEXT,
            "Where the same runs there already: adopt, wait, skip or start; start, unasked.")
        .may("looks-back", Keys.Form.DURATION, "How far back the same is looked for; 7d.")
        .may("until", Keys.Form.TEXT, "When it is done: started or ended; ended.");
  }

  @Override
  public Work read(JobFields job) {
    Fields fields = job.fields();
    String text = fields.text(key(), "");
    Matcher matcher = CALL.matcher(text);
    boolean sound = matcher.matches();
    if (!sound && !text.isEmpty()) {
      job.error(
          key(),
          "cannot read \""
              + text
              + "\"; expected OPERATION of SERVICE, as in \"file-manifest of harbour-office\", or"
              + " follow OPERATION of SERVICE");
    }
    boolean follows = sound && matcher.group(1) != null;
    String service = sound ? matcher.group(3) : "";
    if (sound) {
      job.mention(key(), Document.What.REMOTE_SERVICE, service);
    }
    Call.Already already = word(job, "unless-running", Call.Already.class, Call.Already.START);
    Call.Until until = word(job, "until", Call.Until.class, Call.Until.ENDED);
    if (follows) {
      refuse(job, "unless-running", "begins nothing");
      refuse(job, "until", "is there to wait for the end");
    } else if (fields.has("id") && sound) {
      job.error("id", "\"id\" belongs to \"call: follow ...\"; what is begun gets its id there");
    }
    Duration every = fields.span("every").orElse(EVERY);
    Duration growing =
        fields.span("growing-to").orElse(every.compareTo(GROWING_TO) > 0 ? every : GROWING_TO);
    if (growing.compareTo(every) < 0) {
      job.error("growing-to", "\"growing-to\" must be at least as long as \"every\"");
    }
    return new Call(
        service,
        sound ? matcher.group(2) : "",
        follows,
        follows && fields.has("id") ? job.template("id") : "",
        every,
        growing,
        fields.duration("bears-outage"),
        already,
        fields.span("looks-back").orElse(LOOKS_BACK),
        until);
  }

  private void refuse(JobFields job, String key, String why) {
    if (job.fields().has(key)) {
      job.error(key, "a follow " + why + "; leave \"" + key + "\" out");
    }
  }

  private static <E extends Enum<E>> E word(JobFields job, String key, Class<E> type, E usual) {
    List<String> words =
        Arrays.stream(type.getEnumConstants()).map(one -> lower(one.name())).toList();
    String text = job.fields().text(key, lower(usual.name()));
    if (!words.contains(text)) {
      job.error(
          key,
          "cannot use \""
              + text
              + "\" for \""
              + key
              + "\"; expected "
              + String.join(", ", words)
              + Nearest.hint(text, words));
      return usual;
    }
    return Enum.valueOf(type, text.toUpperCase(Locale.ROOT));
  }

  private static String lower(String name) {
    return name.toLowerCase(Locale.ROOT);
  }

  /** Whether the service has the operation, and the job what the operation asks for. */
  @Override
  public void check(Job job, Stream stream, Definitions all, Consumer<String> errors) {
    Call call = (Call) job.work();
    Optional<RemoteService> service = all.remoteService(call.service());
    if (service.isEmpty()) {
      return;
    }
    String whose = "job \"" + job.name() + "\"";
    Optional<Operation> found = service.get().operation(call.operation());
    if (found.isEmpty()) {
      errors.accept(
          whose
              + " calls \""
              + call.operation()
              + "\", which "
              + call.service()
              + " does not have"
              + Nearest.hint(call.operation(), service.get().operations().keySet()));
      return;
    }
    boolean lists = call.already() != Call.Already.START || (call.follows() && call.id().isEmpty());
    if (lists && found.get().recent().isEmpty()) {
      errors.accept(
          whose
              + " must know what runs there, but "
              + call.operation()
              + " of "
              + call.service()
              + " has no \"recent\" to ask for it");
    }
    Set<String> known = KnownNames.of(all, stream, job);
    found.get().requests(call).stream()
        .flatMap(request -> request.parameters().stream())
        .distinct()
        .filter(name -> !known.contains(name))
        .map(
            name ->
                whose
                    + " gives no \""
                    + name
                    + "\", which "
                    + call.operation()
                    + " of "
                    + call.service()
                    + " asks for; give it among its \"parameters\"")
        .forEach(errors);
  }
}
