package dev.purser.client;

import dev.purser.wire.api.ScheduleViews;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * What a publication would change, for eyes.
 *
 * @param output where it goes
 * @param full whether every change is listed
 */
record PreviewText(Output output, boolean full) {
  private static final int SHOWN = 12;

  /** Prints it. */
  void print(ScheduleViews.PreviewView view) {
    view.promises().forEach(promise -> output.line("promise: " + promise));
    view.touched().forEach(run -> output.line("careful: " + run.reference() + " " + run.what()));
    view.problems().forEach(problem -> output.line(SiteCommands.inWords(problem)));
    if (!view.sound()) {
      output.line("not sound: these files cannot be published");
      return;
    }
    if (view.definitions().isEmpty()) {
      output.line("nothing would change: all is in force as it is");
      return;
    }
    for (ScheduleViews.DefinitionChange change : view.definitions()) {
      output.line(change.kind() + " " + change.name() + "  " + change.action());
      if (change.action().equals("changed")) {
        change.fields().stream()
            .limit(full ? Integer.MAX_VALUE : SHOWN)
            .forEach(one -> field(output, one));
        more(change.fields().size());
      }
    }
    output.line("");
    output.line(
        "runs from "
            + view.from()
            + " to "
            + view.to()
            + ": "
            + view.gained()
            + " gained, "
            + view.lost()
            + " lost, "
            + view.moved()
            + " moved");
    open(view);
    for (ScheduleViews.StreamChange stream : view.streams()) {
      output.line("");
      output.line(
          stream.stream()
              + "  "
              + stream.title()
              + counts(stream)
              + (stream.paused() ? "; it is paused then, and none of this starts yet" : ""));
      stream.changes().stream()
          .limit(full ? Integer.MAX_VALUE : SHOWN)
          .forEach(change -> output.line("  " + inWords(change)));
      more(stream.changes().size() + stream.more());
    }
  }

  /** Runs that are there and not over: those that keep what they have come last. */
  private void open(ScheduleViews.PreviewView view) {
    if (view.open().isEmpty()) {
      return;
    }
    List<ScheduleViews.OpenRunView> sorted =
        new ArrayList<>(
            view.open().stream().filter(one -> full || !one.state().equals("planned")).toList());
    sorted.sort(Comparator.comparing(one -> one.what().equals("keeps")));
    Map<String, Long> planned = new TreeMap<>();
    view.open().stream()
        .filter(one -> !full && one.state().equals("planned"))
        .forEach(one -> planned.merge(inWords(one.what(), one.because()), 1L, Long::sum));
    output.line("");
    output.line("runs that are there and not over:");
    sorted.stream()
        .limit(full ? Integer.MAX_VALUE : SHOWN)
        .forEach(
            one ->
                output.line(
                    "  "
                        + one.reference()
                        + " ("
                        + one.state()
                        + ") "
                        + inWords(one.what(), one.because())));
    planned.forEach(
        (what, many) -> output.line("  " + many + " planned (--full lists them): each " + what));
    more(sorted.size() + view.moreOpen());
  }

  private static String inWords(String what, String because) {
    return inWords(what) + (because.isEmpty() ? "" : ": " + because);
  }

  private static String inWords(String what) {
    return switch (what) {
      case "takes" -> "takes the new version";
      case "replaced" -> "takes the new version by another attempt";
      case "gone" -> "is taken off the plan";
      default -> "keeps the old version";
    };
  }

  /** One field that differs. */
  static void field(Output output, ScheduleViews.FieldChange field) {
    String was = field.before().isEmpty() ? "(nothing)" : field.before();
    String is = field.after().isEmpty() ? "(nothing)" : field.after();
    output.line("    " + field.field() + ": " + was + " → " + is);
  }

  private void more(int size) {
    if (!full && size > SHOWN) {
      output.line("    … and " + (size - SHOWN) + " more (--full)");
    }
  }

  private static String counts(ScheduleViews.StreamChange stream) {
    List<String> counts = new ArrayList<>();
    if (stream.gained() > 0) {
      counts.add(stream.gained() + " gained");
    }
    if (stream.lost() > 0) {
      counts.add(stream.lost() + " lost");
    }
    if (stream.moved() > 0) {
      counts.add(stream.moved() + " moved");
    }
    return ": " + String.join(", ", counts);
  }

  private static String inWords(ScheduleViews.StartChange change) {
    String mark =
        switch (change.what()) {
          case "gained" -> "+";
          case "lost" -> "-";
          default -> ">";
        };
    String day = change.date() + " " + change.date().getDayOfWeek().name().substring(0, 2);
    String where =
        !change.what().equals("moved")
            ? Output.time(change.at())
            : change.date().equals(change.toDate())
                ? Output.time(change.at()) + " → " + Output.time(change.toAt())
                : "→ "
                    + change.toDate()
                    + " "
                    + change.toDate().getDayOfWeek().name().substring(0, 2);
    return mark
        + (change.guess() ? "? " : "  ")
        + day
        + "  "
        + where
        + "  "
        + change.runs()
        + (change.runs() == 1 ? " run: " : " runs: ")
        + change.reason()
        + (change.shift().isEmpty() ? "" : " (clock change: " + change.shift() + ")");
  }
}
