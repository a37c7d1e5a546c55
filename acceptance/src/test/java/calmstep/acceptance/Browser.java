package calmstep.acceptance;

import calmstep.check.Await;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.openqa.selenium.By;
import org.openqa.selenium.Dimension;
import org.openqa.selenium.Keys;
import org.openqa.selenium.OutputType;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.support.ui.ExpectedConditions;
import org.openqa.selenium.support.ui.Select;
import org.openqa.selenium.support.ui.WebDriverWait;

/** Headless Chromium as a person uses it: by what is written on the page. */
final class Browser implements AutoCloseable {
    private final ChromeDriver driver;
    private final Duration patience;

    private Browser(ChromeDriver driver, Duration patience) {
        this.driver = driver;
        this.patience = patience;
    }

    static Browser open(Path profile) throws Exception {
        Files.createDirectories(profile);
        ChromeOptions options = new ChromeOptions();
        options.setBinary("/usr/bin/chromium");
        options.addArguments(
                "--headless=new",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-quic",
                "--no-first-run",
                "--disable-background-networking",
                "--disable-component-update",
                "--disable-sync",
                "--window-size=1280,943",
                "--hide-scrollbars",
                "--user-data-dir=" + profile);
        options.setCapability("goog:loggingPrefs", Map.of("browser", "ALL"));
        ChromeDriver driver =
                new ChromeDriver(
                        new ChromeDriverService.Builder()
                                .usingDriverExecutable(new java.io.File("/usr/bin/chromedriver"))
                                .build(),
                        options);
        driver.manage().window().setSize(new Dimension(1280, 943));
        return new Browser(driver, Duration.ofSeconds(60L * Await.PATIENCE));
    }

    Browser within(Duration other) {
        return new Browser(driver, other);
    }

    void go(String url) {
        driver.get(url);
    }

    WebElement find(By by) {
        return new WebDriverWait(driver, patience)
                .until(ExpectedConditions.elementToBeClickable(by));
    }

    void sees(String text) {
        new WebDriverWait(driver, patience)
                .withMessage(
                        () ->
                                "the page should say \"%s\"; it says:%n%s"
                                        .formatted(
                                                text,
                                                driver.findElement(By.tagName("body")).getText()))
                .until(d -> d.findElement(By.tagName("body")).getText().contains(text));
    }

    void press(String text) {
        find(By.xpath("//button[normalize-space()='%s']".formatted(text))).click();
    }

    void follow(String text) {
        find(By.linkText(text)).click();
    }

    void fill(String label, String value) {
        WebElement field =
                find(
                        By.xpath(
                                "//label[starts-with(normalize-space(), '%s')]/following::input[1]"
                                        .formatted(label)));
        field.sendKeys(Keys.chord(Keys.CONTROL, "a"), value);
    }

    void choose(String label, String option) {
        new Select(
                        find(
                                By.xpath(
                                        "//label[normalize-space()='%s']/following::select[1]"
                                                .formatted(label))))
                .selectByVisibleText(option);
    }

    List<String> violations(String axe) {
        driver.executeScript(axe);
        Object found =
                driver.executeAsyncScript(
                        """
                        const done = arguments[arguments.length - 1];
                        axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] }).then(r => done(r.violations.map(v => v.id + ': ' + v.help + ' at ' + v.nodes.map(n => n.html.slice(0, 120)).join(' | '))));\
                        """);
        return ((List<?>) found).stream().map(String::valueOf).toList();
    }

    /** Errors that pages wrote to the browser's log, without the refusals that were asked for. */
    List<String> complaints() {
        return driver.manage().logs().get("browser").getAll().stream()
                .map(Object::toString)
                .filter(line -> line.contains("SEVERE") && !line.contains("401"))
                .toList();
    }

    void picture(Path file) throws Exception {
        Files.write(file, driver.getScreenshotAs(OutputType.BYTES));
    }

    @Override
    public void close() {
        driver.quit();
    }
}
