package dev.purser.service.people;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What a token opens. */
public enum TokenScope {
  /** Everything, as tokens did before there were scopes; no new ones are made. */
  ANY,
  /** The API, as its person may use it. */
  API,
  /** The feed of coming starts for calendar programs, and nothing else. */
  FEED;

  /** The word in the API and the records. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /**
   * Whether such a token opens what is asked for.
   *
   * @param feed whether that is the feed
   * @param asPassword whether it was given as a password, as calendar programs do: they keep it in
   *     places where one that opens everything does not belong
   */
  boolean opens(boolean feed, boolean asPassword) {
    return asPassword ? this != API : feed || this != FEED;
  }

  /** The scope of a word, among those that new tokens can have. */
  public static Optional<TokenScope> of(String word) {
    return Arrays.stream(values()).filter(one -> one != ANY && one.word().equals(word)).findFirst();
  }

  /** The words that new tokens can have. */
  public static List<String> words() {
    return List.of(API.word(), FEED.word());
  }
}
