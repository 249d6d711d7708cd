package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.selenium.AxeBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.support.ui.WebDriverWait;
import tools.jackson.databind.JsonNode;

/** A stream that is drawn from nothing in a real browser, by mouse and by keyboard alone. */
class EditorTest {
  private static Harbour harbour;
  private static Browser on;

  @BeforeAll
  static void open() throws IOException {
    harbour = new Harbour();
    harbour.publish(
        """
        host: quay-north
        ---
        host-group: quays
        hosts: [quay-north]
        ---
        business-calendar: brannoch-office
        ---
        stream: fleet/rosters
        jobs: { publish-crew: { title: Publish the crew list, host: quay-north, run: "true" } }
        """);
    harbour.startAgent("quay-north");
    on = new Browser();
    on.driver().get(harbour.address("/"));
    on.signIn("admin", Harbour.PASSWORD);
    on.text("Nothing needs you");
  }

  @AfterAll
  static void close() throws IOException {
    if (on != null) {
      on.close();
    }
    harbour.close();
  }

  private static WebElement field(String label) {
    return on.see(
        "//*[@id=//label[normalize-space(.)='"
            + label
            + "']/@for] | //label[normalize-space(.)='"
            + label
            + "']/following::input[1]");
  }

  private static void fill(String label, String text) {
    WebElement field = field(label);
    field.sendKeys(Keys.chord(Keys.CONTROL, "a"));
    field.sendKeys(text);
  }

  private static WebElement shape(String id) {
    return on.see("//*[@data-shape='" + id + "']");
  }

  private static void tab(String name) {
    on.press("//button[@role='tab'][normalize-space(.)='" + name + "']");
  }

  private static void addCommand() {
    on.click("Add");
    on.press("//li[@role='menuitem'][contains(., 'Command')]");
    field("name");
  }

  private static String text() {
    tab("Text");
    StringBuilder all = new StringBuilder();
    on.see("//*[contains(@class, 'cm-line')]");
    for (WebElement line : on.driver().findElements(By.cssSelector(".cm-line"))) {
      all.append(line.getText()).append('\n');
    }
    return all.toString();
  }

  private static void says(String words) {
    on.see("//*[@role='status' or @role='alert'][contains(., \"" + words + "\")]");
  }

  @Test
  void byMouseFromNothingToLiveAndBack() throws Exception {
    on.driver().get(harbour.address("/drafts"));
    on.click("Draw a new stream");
    says("a stream needs at least one job");
    fill("full name", "passenger/night-manifest");
    fill("title", "Night passenger manifest");
    fill("calendar", "brannoch-office" + Keys.ESCAPE);
    addCommand();
    fill("name", "close-bookings" + Keys.ENTER);
    fill("run", "echo closed");
    fill("host", "quay-north" + Keys.ESCAPE);
    addCommand(); // it waits for the one that is chosen
    fill("name", "build-manifest" + Keys.ENTER);
    fill("run", "echo built");
    fill("host", "any of quays" + Keys.ESCAPE);
    fill("Find, or put into the picture", "publish-crew");
    on.press("//li[@role='option'][contains(., 'fleet/rosters/publish-crew')]");
    new Actions(on.driver())
        .dragAndDrop(
            on.see("//*[@data-join='fleet/rosters/publish-crew']"), shape("build-manifest"))
        .perform();
    on.text("it has succeeded");
    shape("build-manifest").click();
    addCommand();
    fill("name", "file-manifest" + Keys.ENTER);
    fill("run", "echo filed");
    fill("host", "quay-north" + Keys.ESCAPE);
    on.click("All of it");
    // What would close a circle is refused as it is drawn, and says why.
    new Actions(on.driver())
        .dragAndDrop(on.see("//*[@data-join='file-manifest']"), shape("close-bookings"))
        .perform();
    says("close-bookings cannot wait for file-manifest: file-manifest waits for build-manifest");
    tab("Schedule");
    on.press("//*[contains(@class, 'MuiChip-label')][.='Every business day']");
    on.press("//*[contains(@class, 'MuiChip-label')][.='21:30']");
    on.see("//h3[.='Its next starts']");
    on.see("//p[contains(., ' 21:30 ')]");
    says("fleet/rosters has no schedule, so it would wait");
    assertThat(text())
        .contains(
            "stream: passenger/night-manifest",
            "days: business days",
            "waits-for: close-bookings succeeded and fleet/rosters/publish-crew succeeded",
            "waits-for: build-manifest succeeded");
    everybodyCanUseIt();
    on.click("Try once");
    on.press("//div[@role='dialog']//button[.='Try it']");
    on.see("//div[@role='dialog']//p[contains(., '3 runs started')]");
    for (JsonNode run : runs("trial/")) {
      harbour.awaitState(run.get("id").asLong(), "succeeded", 30);
    }
    on.press("//div[@role='dialog']//button[.='Close']");
    on.click("Publish…");
    on.see(
        "//div[@role='dialog']//h2[contains(., 'gained')] | //div[@role='dialog']//*[contains(., 'passenger/night-manifest')]");
    on.see("//div[@role='dialog']//input").sendKeys("drawn tonight");
    on.press("//div[@role='dialog']//button[.='Publish']");
    on.text("is in force");
    assertThat(runs("passenger/")).as("a new stream is paused").isEmpty();
    on.press("//a[contains(., 'Open passenger/night-manifest')]");
    on.click("Resume");
    on.see("//div[@role='dialog']//input").sendKeys("looks right");
    on.press("//div[@role='dialog']//button[contains(., 'Resume')]");
    on.see("//button[normalize-space(.)='Pause']");
    assertThat(harbour.get("/api/v1/streams/one?stream=passenger/night-manifest").has("pause"))
        .isFalse();
    changedAndReverted();
    broughtByParcel();
  }

  private static String live() {
    return harbour
        .get(
            "/api/v1/definitions/stream/version?name=passenger/night-manifest"
                + "&revision=9000000000000000")
        .get("text")
        .asString();
  }

  private static List<JsonNode> runs(String begins) {
    return harbour
        .get("/api/v1/runs?limit=500")
        .get("runs")
        .valueStream()
        .filter(run -> run.get("stream").asString().startsWith(begins))
        .toList();
  }

  /** While it runs: what has begun goes on as it was. */
  private static void changedAndReverted() throws IOException {
    Map<String, Long> runs = harbour.startStream("passenger/night-manifest");
    on.driver().get(harbour.address("/definitions/stream/passenger/night-manifest"));
    on.click("Draw and change it");
    shape("close-bookings").click();
    tab("Job");
    fill("run", "echo closed at last");
    says("fleet/rosters has no schedule, so it would wait");
    on.click("Publish…");
    on.press("//div[@role='dialog']//button[.='Publish']");
    on.text("is in force");
    harbour.awaitState(runs.get("close-bookings"), "succeeded", 30);
    on.driver().get(harbour.address("/definitions/stream/passenger/night-manifest"));
    on.press("(//button[.='Look'])[2]");
    on.press("//button[contains(., 'going back')]");
    on.see("//input[@type='text'][last()]");
    on.press("//button[starts-with(normalize-space(.), 'Go back')]");
    on.see("//*[contains(., 'as it was at revision')]");
  }

  private static void broughtByParcel() throws IOException {
    JsonNode packed =
        harbour.post(
            "/api/v1/parcels/packed",
            Map.of(
                "streams",
                List.of("passenger/night-manifest"),
                "others",
                List.of(),
                "withNeeds",
                false,
                "signed",
                false));
    Path file = harbour.home.resolve("night.parcel");
    Files.write(file, Base64.getDecoder().decode(packed.get("parcel").asString()));
    harbour.publish(live().replace("echo filed", "echo other"));
    on.driver().get(harbour.address("/parcels"));
    on.see("//input[@type='file']").sendKeys(file.toString());
    on.text("packed by admin");
    on.press("//button[.='Take all of it']");
    on.text("can be undone as a whole");
    assertThat(live()).contains("echo filed");
  }

  private static void everybodyCanUseIt() {
    for (String mode : List.of("Dark", "Light")) {
      on.click(mode);
      assertThat(new AxeBuilder().analyze(on.driver()).getViolations())
          .as("the editor, " + mode)
          .isEmpty();
    }
  }

  @Test
  void whatATemplateSaysIsDrawnAndCanBeOtherHere() {
    harbour.publish(
        """
        template: ship-log
        parameters: { ship: { type: name } }
        of-stream:
          title: The log of $<ship>
          jobs:
            fetch-log: { title: Fetch the log, host: quay-north, run: echo fetched }
            put-away: { host: quay-north, run: echo put away, waits-for: fetch-log succeeded }
        ---
        stream: ships/skua
        from-template: ship-log   # all ships
        with: { ship: skua }
        """);
    on.driver().get(harbour.address("/definitions/stream/ships/skua"));
    on.click("Draw and change it");
    assertThat(shape("fetch-log").getAttribute("aria-label")).contains("from the template");
    on.see("//*[@data-arrow='0 put-away']");
    shape("put-away").click();
    tab("Job");
    on.text("Its template says: quay-north.");
    fill("host", "any of quays" + Keys.ESCAPE);
    on.text("Other than its template");
    assertThat(text())
        .contains("from-template: ship-log   # all ships", "put-away:", "any of quays");
    shape("fetch-log").click();
    on.click("Delete");
    says("fetch-log comes from the template");
    on.click("Publish…");
    on.press("//div[@role='dialog']//button[.='Publish']");
    on.text("is in force");
    assertThat(harbour.get("/api/v1/templates/ship-log").get("made").toString())
        .contains("jobs.put-away.host");
  }

  @Test
  void daysOfACalendarAreClosedAndOpenedByClicking() {
    harbour.publish(
        """
        holiday-calendar: brannoch
        holidays:
          - { day: 24 december, name: Yule Eve }   # always
        """);
    int year = java.time.Year.now(java.time.ZoneOffset.UTC).getValue() + 1;
    on.driver().get(harbour.address("/calendar-editor?kind=holiday&name=brannoch"));
    on.press("//button[contains(., '" + year + " ›')]");
    fill("What the days that you close are called", "Regatta");
    on.press("//button[starts-with(@title, '" + year + "-05-14')]");
    on.see("//p[contains(., 'Regatta')]");
    on.press("//button[starts-with(@title, '" + year + "-12-24')]");
    says("is closed by a rule that holds each year");
    on.press("//button[contains(., 'Extend to " + (year + 1) + "')]");
    says("Regatta: " + year + "-05-14");
    on.click("Publish…");
    on.see("//div[@role='dialog']//input").sendKeys("as every year");
    on.press("//div[@role='dialog']//button[.='Publish']");
    on.text("is in force");
    String text =
        harbour
            .get(
                "/api/v1/definitions/holiday-calendar/version?name=brannoch"
                    + "&revision=9000000000000000")
            .get("text")
            .asString();
    assertThat(text)
        .contains(
            "- { day: 24 december, name: Yule Eve }   # always\n",
            "- { day: " + year + "-05-14, name: Regatta }\n",
            "- { day: " + (year + 1) + "-05-14, name: Regatta }\n");
  }

  // ---- by keyboard alone

  private static void press(CharSequence... keys) {
    new Actions(on.driver()).sendKeys(keys).perform();
  }

  private static void chord(Keys with, String key) {
    new Actions(on.driver()).keyDown(with).sendKeys(key).keyUp(with).perform();
  }

  /** Tabs on until something that is wanted has the focus. */
  private static void tabTo(String css) {
    for (int i = 0; i < 80; i++) {
      press(Keys.TAB);
      Boolean there =
          (Boolean)
              on.driver()
                  .executeScript(
                      "const e = document.activeElement; const l = e.labels && e.labels[0] ?"
                          + " e.labels[0].textContent : ''; return e.matches(arguments[0]) || l ==="
                          + " arguments[0];",
                      css);
      if (Boolean.TRUE.equals(there)) {
        return;
      }
    }
    throw new AssertionError("the Tab key does not reach " + css);
  }

  private static void type(String label, String words) {
    tabTo(label);
    chord(Keys.CONTROL, "a");
    press(words);
  }

  /** The form of a new job, which is open with its name chosen. */
  private static void job(String name, String command) {
    new WebDriverWait(on.driver(), Duration.ofSeconds(10))
        .until(any -> any.switchTo().activeElement().getAttribute("value").startsWith("new-job"));
    press(name + Keys.ENTER);
    type("run", command);
    type("host", "quay-north" + Keys.ESCAPE);
    press(Keys.ESCAPE);
    new WebDriverWait(on.driver(), Duration.ofSeconds(10))
        .until(any -> name.equals(any.switchTo().activeElement().getAttribute("data-shape")));
  }

  @Test
  void byKeyboardAlone() {
    on.driver().get(harbour.address("/editor"));
    on.see("//label[.='full name']");
    type("full name", "passenger/by-keys");
    on.driver().executeScript("document.activeElement.blur()");
    tabTo("[aria-label='Picture']");
    press("n");
    press(Keys.ENTER);
    job("close", "echo closed");
    press("a");
    press(Keys.ENTER);
    job("build", "echo built");
    press("n");
    press(Keys.ENTER);
    job("file", "echo filed");
    // From build to file, by keys: go there, begin, go to what is to wait.
    press(Keys.ARROW_UP);
    press(Keys.ARROW_RIGHT);
    press("c");
    says("What is to wait for build?");
    press(Keys.ARROW_DOWN);
    press(Keys.ENTER);
    on.text("it has succeeded");
    says("Nothing is wrong with it");
    chord(Keys.CONTROL, "s");
    says("saved");
    assertThat(text()).contains("waits-for: close succeeded", "waits-for: build succeeded");
    JsonNode draft = harbour.get("/api/v1/drafts").get(0);
    assertThat(draft.get("title").asString()).isNotEmpty();
    assertThat(draft.get("holder").asString()).isEqualTo("admin");
  }
}
