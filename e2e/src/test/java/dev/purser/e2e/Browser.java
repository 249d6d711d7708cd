package dev.purser.e2e;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import org.openqa.selenium.By;
import org.openqa.selenium.ElementClickInterceptedException;
import org.openqa.selenium.OutputType;
import org.openqa.selenium.TimeoutException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.support.ui.WebDriverWait;

/** A real browser, and what a person does with it. */
final class Browser implements AutoCloseable {
  private final ChromeDriver driver;

  Browser() {
    ChromeOptions options = new ChromeOptions();
    options.setBinary("/usr/bin/chromium");
    options.addArguments(
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-dev-shm-usage",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--window-size=1280,800");
    ChromeDriverService service =
        new ChromeDriverService.Builder()
            .usingDriverExecutable(new java.io.File("/usr/bin/chromedriver"))
            .build();
    driver = new ChromeDriver(service, options);
  }

  ChromeDriver driver() {
    return driver;
  }

  /** Waits until something is there. */
  WebElement see(String xpath) {
    try {
      return new WebDriverWait(driver, Duration.ofSeconds(30))
          .until(any -> any.findElements(By.xpath(xpath)).stream().findFirst().orElse(null));
    } catch (TimeoutException e) {
      throw new AssertionError(xpath + " does not come; there is: " + shown(), e);
    }
  }

  /** What the page says, and a picture of it beside the reports of the tests. */
  private String shown() {
    try {
      byte[] picture = driver.getScreenshotAs(OutputType.BYTES);
      Files.write(Path.of("target", "not-there-" + System.nanoTime() + ".png"), picture);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return driver.findElement(By.tagName("body")).getText();
  }

  WebElement text(String text) {
    return see(
        "//*[self::p or self::h1 or self::h2 or self::span or self::a or self::div[not(*)]]"
            + "[contains(normalize-space(.), \""
            + text
            + "\")]");
  }

  void click(String name) {
    press("//button[normalize-space(.)=\"" + name + "\"]");
  }

  /** Clicks on something, once it stands still and nothing is before it. */
  void press(String xpath) {
    new WebDriverWait(driver, Duration.ofSeconds(20))
        .ignoring(ElementClickInterceptedException.class)
        .until(
            any -> {
              WebElement found = see(xpath);
              driver.executeScript("arguments[0].scrollIntoView({ block: 'center' })", found);
              found.click();
              return true;
            });
  }

  /** Signs in on the page that is shown. */
  void signIn(String name, String password) {
    see("//input[@autocomplete='username']").sendKeys(name);
    see("//input[@type='password']").sendKeys(password);
    click("Sign in");
  }

  @Override
  public void close() {
    driver.quit();
  }
}
