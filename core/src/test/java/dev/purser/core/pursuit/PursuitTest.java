package dev.purser.core.pursuit;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.pursuit.Pursuit.Deed;
import dev.purser.core.pursuit.Pursuit.Phase;
import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.remote.Request;
import dev.purser.core.run.Ending;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PursuitTest {
  private static final Instant T = Instant.parse("2027-03-04T21:30:00Z");
  private static final Request NOTHING =
      new Request("GET", "/", Map.of(), Map.of(), new Request.None());
  private static final Operation KEYED = operation("Idempotency-Key", "", true);
  private static final Operation LISTED = operation("", "/key", true);
  private static final Operation BLIND = operation("", "", false);
  private static final Call FILE = call(Call.Already.START, Call.Until.ENDED);

  private static Operation operation(String keyHeader, String keyInList, boolean lists) {
    return new Operation(
        "file-manifest",
        "",
        new Operation.Start(NOTHING, "/id", "", keyHeader),
        new Operation.Look(
            NOTHING,
            "/state",
            Map.of(
                "working", Operation.Meaning.RUNNING,
                "filed", Operation.Meaning.SUCCEEDED,
                "refused", Operation.Meaning.FAILED,
                "withdrawn", Operation.Meaning.CANCELLED),
            "",
            "",
            "",
            Map.of()),
        Optional.of(NOTHING),
        Optional.empty(),
        lists
            ? Optional.of(new Operation.Recent(NOTHING, "", "/id", "/state", "/started", keyInList))
            : Optional.empty());
  }

  private static Call call(Call.Already already, Call.Until until) {
    return new Call(
        "harbour-office",
        "file-manifest",
        false,
        "",
        Duration.ofSeconds(10),
        Duration.ofMinutes(1),
        Optional.of(Duration.ofMinutes(15)),
        already,
        Duration.ofDays(7),
        until);
  }

  private static Pursuit asked() {
    return Pursuit.begins(FILE, "k1", "", T).asking(T);
  }

  private static Pursuit following() {
    return asked().heard(new Heard.Begun("4711", ""), FILE, KEYED, T).next();
  }

  private static Heard seen(String word) {
    return new Heard.Seen(word, "no deck", "", "", Map.of("receipt", "BS-1"));
  }

  private static Heard away() {
    return new Heard.Away("it is away", Optional.empty());
  }

  private static Instant after(String time) {
    return T.plus(Duration.parse("PT" + time));
  }

  @Test
  void isAskedOnceAndFollowedToItsEnd() {
    assertThat(Pursuit.begins(FILE, "k1", "", T).deed(KEYED, T)).isEqualTo(Deed.ASK);
    Pursuit.Move begun = asked().heard(new Heard.Begun("4711", "http://l"), FILE, KEYED, T);
    assertThat(begun.says()).containsExactly("it runs there as 4711: http://l");
    Pursuit next = begun.next();
    assertThat(next.deed(KEYED, after("9S"))).isEqualTo(Deed.REST);
    assertThat(next.deed(KEYED, after("10S"))).isEqualTo(Deed.LOOK);
    next = next.heard(seen("working"), FILE, KEYED, after("10S")).next();
    next = next.heard(seen("filed"), FILE, KEYED, after("20S")).next();
    assertThat(next.ending()).contains(Ending.exited(0));
    assertThat(next.remote().values()).containsEntry("receipt", "BS-1");
    assertThat(next.deed(KEYED, after("1H"))).isEqualTo(Deed.NOTHING);
  }

  @ParameterizedTest
  @CsvSource({"filed, 0", "FILED, 0", "refused, 1", "withdrawn, 2"})
  void onlyAWordWhoseMeaningIsDescribedEndsIt(String word, int code) {
    Pursuit next = following().heard(seen(word), FILE, KEYED, T).next();
    assertThat(next.ending().orElseThrow().code()).isEqualTo(code);
  }

  @Test
  void aWordThatNobodyDescribedIsToldOnceAndLookedAtOn() {
    Pursuit.Move move = following().heard(seen("mislaid"), FILE, KEYED, T);
    assertThat(move.next().phase()).isEqualTo(Phase.FOLLOWING);
    assertThat(move.says()).singleElement().asString().contains("\"mislaid\"");
    assertThat(move.next().heard(seen("mislaid"), FILE, KEYED, T).says()).isEmpty();
  }

  @Test
  void looksComeLessOftenUpToTheLimit() {
    Pursuit next = following();
    Instant now = T;
    for (int i = 0; i < 20; i++) {
      now = next.due();
      next = next.heard(seen("working"), FILE, KEYED, now).next();
      assertThat(Duration.between(now, next.due())).isBetween(FILE.every(), FILE.growingTo());
    }
    assertThat(Duration.between(now, next.due())).isEqualTo(FILE.growingTo());
  }

  // ---- a crash, or no answer

  @Test
  void cutOffAfterAskingItIsAskedAgainWithTheSameKey() {
    Pursuit again = asked().takenUp(KEYED, after("30S")).next();
    assertThat(again.phase()).isEqualTo(Phase.UNCLEAR);
    assertThat(again.deed(KEYED, after("30S"))).isEqualTo(Deed.ASK);
    assertThat(again.key()).isEqualTo("k1");
  }

  @Test
  void cutOffBeforeAskingItIsSimplyAsked() {
    Pursuit again = Pursuit.begins(FILE, "k1", "", T).takenUp(BLIND, after("30S")).next();
    assertThat(again.phase()).isEqualTo(Phase.ASKING);
  }

  @Test
  void withoutAKeyTheListIsSearchedAndItsSilenceBelievedOnlyOnceItHasSettled() {
    Pursuit unclear = asked().heard(new Heard.Unclear("cut"), FILE, LISTED, T).next();
    assertThat(unclear.deed(LISTED, unclear.due())).isEqualTo(Deed.LIST);
    Heard others =
        new Heard.Listed(List.of(new Heard.Item("9", "working", Optional.of(T), "other")));
    Pursuit early = unclear.heard(others, FILE, LISTED, after("44S")).next();
    assertThat(early.phase()).isEqualTo(Phase.UNCLEAR);
    Pursuit late = unclear.heard(others, FILE, LISTED, after("45S")).next();
    assertThat(late.phase()).isEqualTo(Phase.ASKING);
    Heard own = new Heard.Listed(List.of(new Heard.Item("12", "working", Optional.of(T), "k1")));
    Pursuit found = unclear.heard(own, FILE, LISTED, after("20S")).next();
    assertThat(found.remote().id()).isEqualTo("12");
  }

  @Test
  void withNeitherAPersonMustSay() {
    for (Pursuit.Move move :
        List.of(
            asked().heard(new Heard.Unclear("cut"), FILE, BLIND, T),
            asked().takenUp(BLIND, after("30S")))) {
      assertThat(move.next().phase()).isEqualTo(Phase.PERSON);
      assertThat(move.next().deed(BLIND, after("9H"))).isEqualTo(Deed.REST);
      assertThat(move.says()).last().asString().contains("--runs-as");
      assertThat(move.next().runsAs("77", FILE, after("9H")).next().remote().id()).isEqualTo("77");
      assertThat(move.next().didNotStart(after("9H")).deed(BLIND, after("9H"))).isEqualTo(Deed.ASK);
    }
  }

  @Test
  void whereSigningInIsRefusedAStartThatIsUnclearWaitsBeforeAPersonIsAsked() {
    Pursuit unclear = asked().heard(new Heard.Unclear("cut"), FILE, KEYED, T).next();
    Heard refused = new Heard.NotAsked("sign-in refused");
    Pursuit waits = unclear.heard(refused, FILE, KEYED, after("10S")).next();
    assertThat(waits.phase()).isEqualTo(Phase.UNCLEAR);
    assertThat(waits.heard(refused, FILE, KEYED, after("30M")).next().phase())
        .isEqualTo(Phase.PERSON);
    assertThat(asked().heard(refused, FILE, KEYED, T).next().ending().orElseThrow().code())
        .isEqualTo(Call.FAILED);
  }

  @Test
  void whatIsUnclearIsNeverTakenForFailed() {
    Pursuit unclear = asked().heard(new Heard.Unclear("cut"), FILE, KEYED, T).next();
    assertThat(unclear.heard(new Heard.Refused("409"), FILE, KEYED, T).next().phase())
        .isEqualTo(Phase.PERSON);
    Pursuit away = unclear.heard(away(), FILE, KEYED, T).next();
    assertThat(away.heard(away(), FILE, KEYED, after("15M")).next().phase())
        .isEqualTo(Phase.PERSON);
  }

  // ---- outages

  @Test
  void anOutageIsBorneAndToldOnceAndThenTheEndIsUnknown() {
    Pursuit.Move first = following().heard(away(), FILE, KEYED, T);
    assertThat(first.says()).containsExactly("it is away; borne for 15m");
    Pursuit.Move still = first.next().heard(away(), FILE, KEYED, after("14M59S"));
    assertThat(still.says()).isEmpty();
    assertThat(still.next().ending()).isEmpty();
    Pursuit back = still.next().heard(seen("working"), FILE, KEYED, after("14M59S")).next();
    assertThat(back.awaySince()).isEmpty();
    Pursuit over = still.next().heard(away(), FILE, KEYED, after("15M")).next();
    assertThat(over.ending().orElseThrow().kind()).isEqualTo(Ending.Kind.LOST);
    assertThat(over.ending().orElseThrow().note()).contains("4711 may still run there");
  }

  @Test
  void whatCouldNotBeAskedHasNotStarted() {
    Pursuit next = asked();
    next = next.heard(away(), FILE, BLIND, T).next();
    assertThat(next.asked()).isEmpty();
    assertThat(next.takenUp(BLIND, after("1M")).next().phase()).isEqualTo(Phase.ASKING);
    next = next.asking(after("15M")).heard(away(), FILE, BLIND, after("15M")).next();
    assertThat(next.ending().orElseThrow().kind()).isEqualTo(Ending.Kind.NOT_STARTED);
  }

  @Test
  void aServiceThatAsksToBeLeftAloneIsLeftAlone() {
    Heard later = new Heard.Away("429", Optional.of(Duration.ofMinutes(2)));
    assertThat(following().heard(later, FILE, KEYED, T).next().due()).isEqualTo(after("2M"));
    Heard never = new Heard.Away("429", Optional.of(Duration.ofDays(9)));
    assertThat(following().heard(never, FILE, KEYED, T).next().due()).isEqualTo(after("5M"));
  }

  @Test
  void anIdThatIsNotKnownYetIsGivenAMinute() {
    Heard none = new Heard.NoSuchThing("404");
    assertThat(following().heard(none, FILE, KEYED, after("59S")).next().ending()).isEmpty();
    assertThat(
            following().heard(none, FILE, KEYED, after("60S")).next().ending().orElseThrow().kind())
        .isEqualTo(Ending.Kind.LOST);
  }

  // ---- what runs there already

  @ParameterizedTest
  @CsvSource({
    "ADOPT, working, FOLLOWING",
    "WAIT, working, CHOOSING",
    "SKIP, working, ENDED",
    "ADOPT, filed, ASKING",
    "WAIT, filed, ASKING",
    "SKIP, refused, ASKING"
  })
  void whatRunsThereAlreadyIsAdoptedWaitedForOrLeft(
      Call.Already already, String word, Phase phase) {
    Call call = call(already, Call.Until.ENDED);
    Heard list = new Heard.Listed(List.of(new Heard.Item("9", word, Optional.of(T), "")));
    Pursuit first = Pursuit.begins(call, "k", "", T);
    assertThat(first.deed(KEYED, T)).isEqualTo(Deed.LIST);
    assertThat(first.heard(list, call, KEYED, T).next().phase()).isEqualTo(phase);
  }

  @Test
  void whatIsTooLongAgoDoesNotCountAndNoneIsToldFromNoSuchThingFromNotKnown() {
    Call follow =
        new Call(
            "harbour-office",
            "file-manifest",
            true,
            "",
            FILE.every(),
            FILE.growingTo(),
            FILE.bears(),
            Call.Already.START,
            Duration.ofDays(7),
            Call.Until.ENDED);
    Instant old = T.minus(Duration.ofDays(8));
    Heard list = new Heard.Listed(List.of(new Heard.Item("9", "working", Optional.of(old), "")));
    Pursuit first = Pursuit.begins(follow, "k", "", T);
    assertThat(first.heard(list, follow, KEYED, T).next().ending().orElseThrow().note())
        .isEqualTo("nothing was begun there within the last 7d");
    assertThat(first.heard(new Heard.NoSuchThing("404"), follow, KEYED, T).says())
        .containsExactly("there is no such thing there: 404");
    assertThat(first.heard(away(), follow, KEYED, T).next().ending()).isEmpty();
  }

  // ---- stopping

  @Test
  void whatHasNotBegunStopsAtOnce() {
    Pursuit.Move move = Pursuit.begins(FILE, "k", "", T).stopBy(after("10S"), KEYED, T);
    assertThat(move.next().ending().orElseThrow().code()).isEqualTo(143);
  }

  @Test
  void whatRunsThereIsToldToStopAndItsTrueEndIsWaitedFor() {
    Pursuit stopping = following().stopBy(after("1M"), KEYED, T).next();
    assertThat(stopping.deed(KEYED, T)).isEqualTo(Deed.STOP);
    stopping = stopping.heard(new Heard.ToldToStop(), FILE, KEYED, T).next();
    assertThat(stopping.deed(KEYED, T)).isEqualTo(Deed.LOOK);
    assertThat(
            stopping.heard(seen("withdrawn"), FILE, KEYED, T).next().ending().orElseThrow().code())
        .isEqualTo(143);
    assertThat(stopping.heard(seen("filed"), FILE, KEYED, T).next().ending())
        .contains(Ending.exited(0));
    Ending forced =
        stopping.heard(seen("working"), FILE, KEYED, after("1M")).next().ending().orElseThrow();
    assertThat(forced.code()).isEqualTo(137);
    assertThat(forced.note()).contains("4711 may still run there");
  }

  @Test
  void whatIsUnclearIsNotLetGoBeforeItsGraceIsOver() {
    Pursuit unclear = asked().heard(new Heard.Unclear("cut"), FILE, KEYED, T).next();
    Pursuit stopping = unclear.stopBy(after("10S"), KEYED, T).next();
    assertThat(stopping.phase()).isEqualTo(Phase.UNCLEAR);
    Pursuit begun = stopping.heard(new Heard.Begun("5", ""), FILE, KEYED, T).next();
    assertThat(begun.phase()).isEqualTo(Phase.FOLLOWING);
    assertThat(begun.stop()).isPresent();
  }
}
