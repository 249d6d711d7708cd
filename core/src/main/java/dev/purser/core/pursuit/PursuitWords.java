package dev.purser.core.pursuit;

import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.temporal.ChronoUnit;

/** What a pursuit says, in the output of its run and as the reason of its end. */
final class PursuitWords {
  private PursuitWords() {}

  static String runsAs(String id, String link) {
    return "it runs there as " + id + (link.isEmpty() ? "" : ": " + link);
  }

  static String isLatest(String id) {
    return "the latest there is " + id;
  }

  static String adopted(String id) {
    return id + " runs there already: it is followed, and nothing is started";
  }

  static String runsAlready(String id) {
    return id + " runs there already";
  }

  static String waitsFor(String id) {
    return id + " runs there already: it is waited for";
  }

  static String noneInRange(Duration looksBack) {
    return "nothing was begun there within the last " + Durations.print(looksBack);
  }

  static String noSuchThing(String why) {
    return "there is no such thing there: " + why;
  }

  static String leftToRun() {
    return "it was only to be started; nobody waits for its end here";
  }

  static String stands(String word, String progress) {
    return "there it is " + word + (progress.isEmpty() ? "" : ", " + Operation.far(progress));
  }

  static String unknownWord(String word) {
    return "there it is \""
        + word
        + "\", a word that the description gives no meaning to; it is looked at on";
  }

  static String unclear(String why) {
    return why + ": it is not known whether it has begun there";
  }

  static String cutOff() {
    return "Purser was cut off after it had asked: it is not known whether it has begun there";
  }

  static String cannotBeKnown() {
    return "it is not known whether it has begun there, and the service cannot be asked";
  }

  static String refusedAgain(String why) {
    return "asked again with the same key, the service refuses: " + why;
  }

  static String aPersonMustSay() {
    return "a person must look there and say which: purser remote RUN --runs-as ID, or"
        + " --did-not-start";
  }

  static String notInList() {
    return "the service's list does not have it: it did not begin, and is asked for anew";
  }

  static String away(String why, Call call) {
    return why + "; borne for " + Durations.print(call.bearsOutage());
  }

  static String awayFor(String why, Duration length) {
    return why + ", for " + Durations.print(length.truncatedTo(ChronoUnit.SECONDS));
  }

  static String backAfter(Duration length) {
    return "the service answers again, after "
        + Durations.print(length.truncatedTo(ChronoUnit.SECONDS));
  }

  static String forgotten(String id) {
    return "the service does not know " + id + " any more, so nobody knows how it ended";
  }

  static String lostSight(String id, String why) {
    return why + "; " + id + " may still run there";
  }

  static String toldToStop() {
    return "the service was told to stop it";
  }

  static String stoppedThere() {
    return "it was stopped there";
  }

  static String cancelledThere() {
    return "it was cancelled there, not by Purser";
  }

  static String stoppedBefore() {
    return "stopped before it was begun there";
  }

  static String stoppedUnclear() {
    return "stopped while nobody knew whether it had begun there";
  }

  static String cannotBeStopped(String id) {
    return "the service has no way to stop it: " + id + " may still run there";
  }

  static String doesNotStop(String id) {
    return "it did not stop within its grace time: " + id + " may still run there";
  }
}
