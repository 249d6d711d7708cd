package dev.purser.core.kind;

import dev.purser.core.definition.ConnectionKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.Work;
import dev.purser.core.mail.Mail;
import dev.purser.core.reading.Fields;
import dev.purser.core.reading.JobFields;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** {@code mail}: a mail as a step. */
public final class MailKind implements WorkKind {
  private static final Pattern ATTACHED =
      Pattern.compile("(?:output|result (\\d{1,3})) of (\\S{1,200})(?: as ([\\w.-]{1,100}))?");

  @Override
  public String key() {
    return "mail";
  }

  @Override
  public String inWords() {
    return "a mail";
  }

  @Override
  public Set<String> reads() {
    return Set.of(Mail.KIND);
  }

  @Override
  public Happens happens() {
    return Happens.IN_SERVICE;
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may(key(), Keys.Form.TEXT, "A mail to these addresses, with commas between.")
        .may("subject", Keys.Form.TEXT, "Its subject; with ${placeholders}.")
        .may(
            "over",
            Keys.Form.NAME,
            "The connection of a mail server; the service's own by default.")
        .may("text", Keys.Form.TEXT, "What it says; with ${placeholders}.")
        .may(
            "attach",
            Keys.Form.NAMES,
            "What goes with it: output of JOB, or result N of JOB as NAME.csv.");
  }

  @Override
  public Work read(JobFields job) {
    String to = job.template(key());
    for (String one : to.split(",")) {
      if (!one.contains("${") && !isAddress(one.strip())) {
        job.error(key(), "\"" + one.strip() + "\" is not an address of mail");
      }
    }
    if (!job.fields().has("subject")) {
      job.error(key(), "a mail needs a \"subject\"");
    }
    String over = job.fields().has("over") ? job.fields().name("over") : "";
    if (!over.isEmpty()) {
      job.mention("over", Document.What.CONNECTION, over);
    }
    return new Mail(to, job.template("subject"), job.template("text"), attached(job), over);
  }

  /** Whether its connection leads to a mail server. */
  @Override
  public void check(Job job, Stream stream, Definitions all, Consumer<String> errors) {
    String over = ((Mail) job.work()).over();
    all.connection(over)
        .filter(one -> one.kind() != ConnectionKind.MAIL)
        .ifPresent(
            one ->
                errors.accept(
                    "job \""
                        + job.name()
                        + "\" sends a mail over "
                        + over
                        + ", which is not a connection of the kind mail"));
  }

  /** Whether a text can be an address of mail: one at sign, no blanks, nothing that ends a line. */
  public static boolean isAddress(String text) {
    return text.matches("[^\\s@<>,;\\p{Cntrl}]{1,64}@[A-Za-z0-9.-]{1,255}");
  }

  private static List<Mail.Attachment> attached(JobFields job) {
    List<Mail.Attachment> all = new ArrayList<>();
    for (Fields.Item item : job.fields().items("attach")) {
      Matcher matcher = ATTACHED.matcher(item.text());
      if (!matcher.matches()) {
        job.error(
            "attach",
            "cannot read \""
                + item.text()
                + "\"; expected output of JOB, or result N of JOB as NAME.csv");
        continue;
      }
      int result = matcher.group(1) == null ? 0 : Integer.parseInt(matcher.group(1));
      String of = matcher.group(2);
      job.mentionJob(item, of);
      String usual = of.substring(of.lastIndexOf('/') + 1) + (result == 0 ? ".txt" : ".csv");
      all.add(new Mail.Attachment(result, of, matcher.group(3) == null ? usual : matcher.group(3)));
    }
    return all;
  }
}
