package dev.purser.core.kind;

import dev.purser.core.definition.ConnectionKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Work;
import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.pattern.FilePattern;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.reading.Fields;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import dev.purser.core.transfer.Sealing;
import dev.purser.core.transfer.Transfer;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** {@code transfer}: files from here to there. */
public final class TransferKind implements WorkKind {
  private static final String NAME = "[a-z0-9][a-z0-9._-]{0,99}";
  private static final Pattern PHRASE =
      Pattern.compile(
          "((?:/|\\$\\{).{1,1000}) from ((?:host )?"
              + NAME
              + ") to ((?:/|\\$\\{).{0,1000}) on ((?:host )?"
              + NAME
              + ")");
  private static final Pattern MOVE = Pattern.compile("move to (/.{1,1000})");

  private static final Set<ConnectionKind> NO_PLACES =
      Set.of(ConnectionKind.DATABASE, ConnectionKind.CLUSTER, ConnectionKind.MAIL);

  @Override
  public String key() {
    return "transfer";
  }

  @Override
  public String inWords() {
    return "files to be brought elsewhere";
  }

  @Override
  public Set<String> reads() {
    return Set.of(Transfer.KIND);
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
            "Files: /PATH/PATTERN from CONNECTION to /DIRECTORY on CONNECTION, or host NAME.")
        .may("if-there", Keys.Form.TEXT, "Where a file is there already: fail, overwrite, skip.")
        .may("afterwards", Keys.Form.TEXT, "At the source, then: keep, remove, move to /DIRECTORY.")
        .may("at-least", Keys.Form.NUMBER, "How many files there must be; 1.")
        .may("encrypt-for", Keys.Form.TEXT, "OpenPGP: a file of the service with a public key.")
        .may("sign-with", Keys.Form.NAME, "OpenPGP: a secret of the service that signs.")
        .may("decrypt-with", Keys.Form.NAME, "OpenPGP: a secret of the service that decrypts.")
        .may("signed-by", Keys.Form.TEXT, "OpenPGP: a file with the key that must have signed.")
        .may("compare", Keys.Form.FLAG, "Whether what has arrived is read back; no.");
  }

  @Override
  public Work read(JobFields job) {
    String text = job.template(key());
    Matcher matcher = PHRASE.matcher(text);
    boolean sound = matcher.matches();
    if (!sound && !text.isEmpty()) {
      job.error(
          key(),
          "cannot read \""
              + text
              + "\"; expected /PATH/PATTERN from CONNECTION to /DIRECTORY on CONNECTION, as in"
              + " \"/out/*.csv from port-office to /in on brannoch-store\"");
    }
    if (sound) {
      mention(job, matcher.group(2));
      mention(job, matcher.group(4));
      pattern(job, matcher.group(1));
    }
    String moveTo = "";
    String after = job.fields().has("afterwards") ? job.template("afterwards") : "keep";
    Matcher move = MOVE.matcher(after);
    if (move.matches()) {
      moveTo = move.group(1);
      after = "move";
    } else if (!Set.of("keep", "remove").contains(after)) {
      job.error(
          "afterwards",
          "cannot use \"" + after + "\" for \"afterwards\"; expected keep, remove or move to /DIR");
      after = "keep";
    }
    return new Transfer(
        sound ? matcher.group(1) : "/",
        sound ? matcher.group(2) : "",
        sound ? matcher.group(3) : "/",
        sound ? matcher.group(4) : "",
        there(job),
        Transfer.Afterwards.valueOf(after.toUpperCase(Locale.ROOT)),
        moveTo,
        job.fields().number("at-least", 0, 100_000).orElse(1),
        sealing(job),
        job.fields().flag("compare"));
  }

  private static Sealing sealing(JobFields job) {
    Fields fields = job.fields();
    Sealing sealing =
        new Sealing(
            file(job, "encrypt-for"),
            fields.has("sign-with") ? fields.name("sign-with") : "",
            fields.has("decrypt-with") ? fields.name("decrypt-with") : "",
            file(job, "signed-by"));
    if (sealing.seals() && sealing.opens()) {
      job.error(
          fields.has("decrypt-with") ? "decrypt-with" : "signed-by",
          "files are sealed on their way, or opened, not both");
    }
    return sealing;
  }

  private static String file(JobFields job, String key) {
    String path = job.fields().text(key, "");
    if (!path.isEmpty() && !path.matches("/[^\\p{Cntrl}]{1,500}")) {
      job.error(key, "expected the absolute path of a file of the service");
    }
    return path;
  }

  private void mention(JobFields job, String end) {
    Optional<String> host = Transfer.host(end);
    job.mention(
        key(), host.isPresent() ? Document.What.HOST : Document.What.CONNECTION, host.orElse(end));
  }

  private void pattern(JobFields job, String path) {
    String last = path.substring(path.lastIndexOf('/') + 1);
    String plain = PlaceholderText.withoutPlaceholders(last);
    try {
      if (!plain.isEmpty()) {
        FilePattern.of(plain, true);
      } else if (plain.equals(last)) {
        job.error(key(), "the path must end with a name or a pattern, such as /out/*.csv");
      }
    } catch (PhraseException e) {
      job.error(key(), e.getMessage());
    }
  }

  private static Transfer.There there(JobFields job) {
    String text = job.fields().text("if-there", "fail");
    if (!Set.of("fail", "overwrite", "skip").contains(text)) {
      job.error(
          "if-there",
          "cannot use \"" + text + "\" for \"if-there\"; expected fail, overwrite or skip");
      return Transfer.There.FAIL;
    }
    return Transfer.There.valueOf(text.toUpperCase(Locale.ROOT));
  }

  /** Both ends must be places of files; over plain HTTP a file by its name can be had, no more. */
  @Override
  public void check(Job job, Stream stream, Definitions all, Consumer<String> errors) {
    Transfer transfer = (Transfer) job.work();
    String whose = "job \"" + job.name() + "\"";
    for (String name : new TreeSet<>(List.of(transfer.from(), transfer.to()))) {
      all.connection(name)
          .filter(one -> NO_PLACES.contains(one.kind()))
          .ifPresent(
              one ->
                  errors.accept(
                      whose
                          + " brings files over "
                          + one.name()
                          + ", which leads to a "
                          + one.kind().word()));
    }
    if (isHttp(transfer.to(), all)) {
      errors.accept(
          whose + " brings files to " + transfer.to() + ": over http they can be had, not put");
    }
    if (isHttp(transfer.from(), all)) {
      String last = transfer.path().substring(transfer.path().lastIndexOf('/') + 1);
      if (PlaceholderText.withoutPlaceholders(last).matches(".*[*?].*")) {
        errors.accept(
            whose + " looks for a pattern over http, where nobody lists files; name one file");
      }
      if (transfer.afterwards() != Transfer.Afterwards.KEEP) {
        errors.accept(whose + ": over http a source can only be kept; leave \"afterwards\" out");
      }
    }
  }

  private static boolean isHttp(String name, Definitions all) {
    return all.connection(name).filter(one -> one.kind() == ConnectionKind.HTTP).isPresent();
  }
}
