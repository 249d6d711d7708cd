package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.selenium.AxeBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Dimension;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.WindowType;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.support.ui.WebDriverWait;

/** The console in a real browser. */
class ConsoleTest {
  private static final List<String> PAGES =
      List.of(
          "/",
          "/commitments",
          "/commitments/clean",
          "/runs",
          "/alerts",
          "/files",
          "/files?view=arrivals",
          "/streams",
          "/streams/passenger/manifest",
          "/streams/passenger/manifest?as=table",
          "/streams/passenger/manifest?as=timeline",
          "/month",
          "/calendars",
          "/rules",
          "/changes",
          "/drafts",
          "/parcels",
          "/repository",
          "/editor?stream=passenger/manifest",
          "/definitions",
          "/definitions/stream/passenger/lounges",
          "/capacity",
          "/hosts",
          "/health");

  private static Harbour harbour;
  private static Browser on;
  private static ChromeDriver browser;

  @BeforeAll
  static void open() throws IOException {
    harbour = new Harbour();
    // There from the start, and nothing was expected before: else an alert opens in the middle.
    Path in = Files.createDirectories(harbour.home.resolve("in"));
    harbour.publish(
        """
        host: quay-north
        title: North quay
        ---
        holiday-calendar: brannoch
        holidays: [ { day: 24 december, name: Yule Eve } ]
        ---
        business-calendar: brannoch-office
        title: Office days
        without: [brannoch]
        ---
        stream: passenger/refunds
        title: Refunds
        paused: no
        schedule: { days: every day, at: "23:59", zone: UTC }
        jobs: { pay: { host: quay-north, run: "true" } }
        ---
        stream: passenger/lounges
        paused: no
        schedule: { days: every day, at: "23:58", zone: UTC }
        jobs: { clean: { host: quay-north, run: "true" } }
        ---
        commitment: clean
        title: The lounges are clean
        department: Passenger services
        of: passenger/lounges/clean
        done-by: "00:30"
        zone: UTC
        ---
        stream: passenger/manifest
        title: Night manifest
        jobs:
          build: { title: Build it, host: quay-north, run: "echo attempt $PURSER_ATTEMPT; [ $PURSER_ATTEMPT -gt 1 ]" }
          file: { title: File it, host: quay-north, run: "true", waits-for: build succeeded }
        ---
        file-watch: dues
        title: Notes of harbour dues
        host: quay-north
        path: @IN@/*.csv
        still-for: 1s
        last-line: END
        expected: { days: @TODAY@, from: "00:00", by: "23:59", zone: UTC }
        ---
        stream: harbour/dues
        paused: no
        starts-on: { file: dues }
        jobs: { read: { host: with the file, run: "exit 3" } }
        """
            .replace("@TODAY@", LocalDate.now(ZoneOffset.UTC).toString())
            .replace("@IN@", in.toString()));
    harbour.startAgent("quay-north");
    on = new Browser();
    browser = on.driver();
  }

  @AfterAll
  static void close() throws IOException {
    if (on != null) {
      on.close();
    }
    harbour.close();
  }

  private static WebElement see(String xpath) {
    return on.see(xpath);
  }

  private static WebElement text(String text) {
    return on.text(text);
  }

  /** Goes to a page by its group and name. */
  private static void page(String group, String name) {
    see("//nav[@aria-label='Groups']//a[.='" + group + "']").click();
    see("//nav[@aria-label='" + group + "']//a[.='" + name + "']").click();
  }

  private static void click(String name) {
    on.click(name);
  }

  @Test
  void anOperatorSignsInSeesWhatFailedAndRerunsItAndTheConsoleFollows() throws IOException {
    browser.get(harbour.address("/"));
    see("//input[@autocomplete='username']").sendKeys("operator");
    see("//input[@type='password']").sendKeys("wrong-password-1");
    click("Sign in");
    text("name or password is wrong");
    see("//input[@type='password']").clear();
    see("//input[@type='password']").sendKeys("\b".repeat(20) + Harbour.PASSWORD);
    click("Sign in");
    text("Nothing needs you");
    Map<String, Long> runs = harbour.startStream("passenger/manifest");
    text("1 thing needs a person").isDisplayed();
    text("Night manifest: Build it").click();
    text("It failed at");
    see("//*[@aria-label='Output' and contains(., 'attempt 1')]");
    click("Rerun");
    see(
        "//div[@role='dialog'][contains(., 'starts again as a new attempt')"
            + " and contains(., 'passenger/manifest/build@')]");
    text("It frees 1 run that would otherwise wait for a person: passenger/manifest/file@");
    see("//div[@role='dialog']//input").sendKeys("tanks were cold");
    see("//div[@role='dialog']//button[normalize-space(.)='Rerun']").click();
    text("It succeeded at");
    harbour.awaitState(runs.get("file"), "succeeded", 15);
    text("rerun by operator: tanks were cold");
    page("The running day", "Today");
    text("Nothing needs you");
    see("//button[contains(@aria-label, 'Night manifest')]").click();
    see("//a[contains(@href, '/runs/" + runs.get("file") + "')]");
    page("The site", "Hosts");
    text("1 of 1 connected");
    page("The site", "Connections");
    text("No connection is defined.");
    page("What is planned", "Calendars");
    text("Yule Eve");
    page("The running day", "Alerts");
    text("No alert is open");
    days();
    definitions();
    peopleAct();
    promisesAreForEverybody();
    files();
    tenTabsAllFollow();
    everyPageIsForEverybody();
    click("Sign out");
    see("//input[@autocomplete='username']");
  }

  /**
   * HTTP/1.1 gives a browser six connections to a host: ten tabs that each held one for live
   * changes would hang. All of them follow what happens, through the one that they share.
   */
  private static void tenTabsAllFollow() throws IOException {
    String first = browser.getWindowHandle();
    List<String> tabs = new ArrayList<>();
    int open = harbour.get("/api/v1/alerts").size();
    for (int i = 0; i < 10; i++) {
      browser.switchTo().newWindow(WindowType.TAB);
      browser.get(harbour.address("/alerts"));
      showsMoreThan(-1);
      tabs.add(browser.getWindowHandle());
    }
    harbour.startStream("passenger/manifest");
    for (String tab : tabs) {
      browser.switchTo().window(tab);
      showsMoreThan(open);
      browser.navigate().refresh();
      showsMoreThan(open);
      browser.close();
    }
    browser.switchTo().window(first);
  }

  /** Waits until the tab tells as many alerts as there are now, and these are more than so many. */
  private static void showsMoreThan(int before) {
    new WebDriverWait(browser, Duration.ofSeconds(60))
        .until(
            driver -> {
              int now = harbour.get("/api/v1/alerts").size();
              String told = "//*[contains(normalize-space(.), \"" + waiting(now) + "\")]";
              return now > before && !driver.findElements(By.xpath(told)).isEmpty();
            });
  }

  private static String waiting(int alerts) {
    return alerts == 0
        ? "Nobody needs to be told"
        : alerts + (alerts == 1 ? " waits for somebody" : " wait for somebody");
  }

  /** Nothing that axe knows to look for is wrong with any page, in light and in dark. */
  private static void everyPageIsForEverybody() {
    for (String theme : List.of("light", "dark")) {
      browser.executeScript("localStorage.setItem('purser-theme', arguments[0])", theme);
      for (String page : PAGES) {
        browser.get(harbour.address(page));
        see("//main//h1 | //main//h2 | //main//table");
        new WebDriverWait(browser, Duration.ofSeconds(20))
            .until(driver -> driver.findElements(By.xpath("//h2[.='One moment']")).isEmpty());
        List<String> found =
            new AxeBuilder()
                .analyze(browser).getViolations().stream()
                    .map(rule -> page + " " + theme + " " + rule.getId() + " " + rule.getNodes())
                    .toList();
        assertThat(found).isEmpty();
      }
    }
  }

  /** A promise in a sentence and on a page of its own; also on a telephone. */
  private static void promisesAreForEverybody() {
    page("The running day", "Commitments");
    text("Passenger services");
    see("//*[contains(., '00:30 on') and contains(., 'was promised')]");
    see("//a[.='The lounges are clean']").click();
    text("What it rests on");
    text("Nothing is on record of earlier dates.");
    Dimension usual = browser.manage().window().getSize();
    for (String page : List.of("/commitments", "/commitments/clean")) {
      browser.manage().window().setSize(new Dimension(500, 800));
      browser.get(harbour.address(page));
      see("//main//h1");
      Number wide = (Number) browser.executeScript("return document.body.scrollWidth - innerWidth");
      assertThat(wide.intValue()).as(page).isLessThanOrEqualTo(0);
    }
    browser.manage().window().setSize(usual);
  }

  /** A stream's picture and table, many runs at once, a kept filter, capacity, and the palette. */
  private static void peopleAct() {
    browser.findElement(By.tagName("body")).sendKeys(Keys.chord(Keys.CONTROL, "k"));
    see("//input[@aria-label='Find']").sendKeys("night man");
    see("//*[@role='option' and @aria-selected='true' and contains(., 'Night manifest')]");
    see("//input[@aria-label='Find']").sendKeys(Keys.ENTER);
    see("//*[@role='link' and starts-with(@aria-label, 'Build it, succeeded')]");
    click("Table");
    see("//td[contains(., 'build succeeded')]");
    page("The running day", "Runs");
    text("like this");
    WebElement name = see("//label[contains(., 'Name or title')]/..//input");
    name.sendKeys("manif*");
    new WebDriverWait(browser, Duration.ofSeconds(60))
        .until(driver -> driver.getCurrentUrl().contains("text=manif")); // the letters count now
    text("2 like this");
    click("Kept filters");
    see("//li[contains(., 'Keep this one')]").click();
    see("//div[@role='dialog']//input").sendKeys("manifests");
    see("//div[@role='dialog']//button[.='Keep']").click();
    see("//button[.='Filter: manifests']");
    see("//input[@aria-label='Select all that are loaded']").click();
    click("Act on them");
    see("//li[starts-with(., 'Rerun (2 of 2')]").click();
    text("It touches 2 runs");
    see("//div[@role='dialog']//button[.='Rerun']").click();
    text("2 of 2 done");
    page("The site", "Capacity");
    text("No capacity is defined");
  }

  /** The day's checklist, what a watch would find, and a file that was not processed. */
  private static void files() throws IOException {
    page("The running day", "Files");
    text("1 watch · nothing overdue");
    see("//tr[contains(., 'Notes of harbour dues')]//*[.='expected']");
    Path in = harbour.home.resolve("in");
    Files.writeString(in.resolve("note-1.csv"), "due\nEND\n");
    Files.writeString(in.resolve("note-2.csv"), "du");
    text("1 file waits for a decision");
    see("//tr[contains(., 'Notes of harbour dues')]//*[.='in time']");
    click("Try");
    text("note-2.csv · 2 B");
    text("its last line is not");
    click("Close");
    see("//button[@role='tab' and contains(., 'Not processed (1)')]").click();
    see("//td[contains(., 'exit code 3')]//a[contains(., 'harbour/dues/read@')]");
    see("//input[@aria-label='choose note-1.csv']").click();
    click("Mark as done");
    on.press("//div[@role='dialog']//button[normalize-space(.)='Mark as done']");
    text("a reason is needed");
    see("//div[@role='dialog']//input").sendKeys("typed in by hand");
    on.press("//div[@role='dialog']//button[normalize-space(.)='Mark as done']");
    text("Every file that came was dealt with");
    see("//button[@role='tab' and .='Arrivals']").click();
    text("marked as done by operator: typed in by hand");
  }

  /** The rule editor, the month, a stream's pages and a change set. */
  private static void days() {
    page("What is planned", "Day rules");
    WebElement rule = see("//input[@aria-describedby='rule-says']");
    rule.sendKeys(Keys.chord(Keys.CONTROL, "a"), "last frida");
    text("did you mean");
    rule.sendKeys("y of month");
    text("12 days in");
    see("//button[@data-on='true' and starts-with(@aria-label, '"
            + lastFridayOfMarch()
            + ", picked')]")
        .click();
    text("it is the last friday of the month");
    page("What is planned", "Month");
    see("//*[@role='rowheader' and .='Refunds']").click();
    text("every day, 23:59");
    click("Pause");
    see("//div[@role='dialog']//label[contains(., 'Why')]/following::input").sendKeys("audit");
    see("//div[@role='dialog']//button[normalize-space(.)='Pause']").click();
    text("by operator: audit");
    page("What is planned", "Changes");
    see("//textarea[not(@aria-hidden)]")
        .sendKeys(
            "stream: passenger/refunds\ntitle: Refunds\nschedule: { days: weekdays, at: \"23:59\", zone: UTC }\n"
                + "jobs: { pay: { host: quay-north, run: x } }\n");
    click("What would change?");
    text("runs lost");
    see("//*[contains(., 'its days are \"weekdays\" now, not \"every day\"')]");
  }

  /** A definition is found by a word of its text, with who uses it and all its versions. */
  private static void definitions() throws IOException {
    harbour.publish(
        """
        stream: passenger/lounges
        paused: no
        schedule: { days: every day, at: "23:58", zone: UTC }
        jobs: { clean: { host: quay-north, run: "echo swept" } }
        """);
    page("What is planned", "Definitions");
    see("//label[contains(., 'Find in names')]/following::input").sendKeys("swept");
    see("//a[contains(., 'stream passenger/lounges, line')]").click();
    text("Used in 1 place");
    see("//a[.='commitment clean']");
    see("(//button[.='Look'])[2]").click();
    see("//h3[.='there was none']");
    assertThat(browser.findElements(By.xpath("//button[contains(., 'going back')]")))
        .as("who may not publish is not asked to")
        .isEmpty();
  }

  private static LocalDate lastFridayOfMarch() {
    return LocalDate.of(LocalDate.now(ZoneId.systemDefault()).getYear(), 3, 31)
        .with(TemporalAdjusters.lastInMonth(DayOfWeek.FRIDAY));
  }
}
