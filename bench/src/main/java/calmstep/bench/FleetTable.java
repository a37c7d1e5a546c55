package calmstep.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.openqa.selenium.By;
import org.openqa.selenium.JavascriptExecutor;
import org.openqa.selenium.WebDriver;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.support.ui.WebDriverWait;

/**
 * The page Fleet with 10,000 rows in headless Chromium without a graphics card. Times are taken
 * inside the page: a press counts until the second frame behind it is drawn, so that what React did
 * and what the browser painted are both in it; scrolling goes 300 pixels a frame for 200 frames,
 * and each frame is timed.
 */
final class FleetTable {
    private static final String FRAMES =
            """
            const done = arguments[0]; const times = []; let last; let n = 0;
            const step = now => {
              if (last !== undefined) times.push(now - last);
              last = now;
              if (n++ < 200) { window.scrollBy(0, 300); requestAnimationFrame(step) } else done(times)
            };
            requestAnimationFrame(step)
            """;
    private static final String PRESS =
            """
            const done = arguments[1]; const start = performance.now();
            arguments[0].click();
            requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - start)))
            """;

    private FleetTable() {}

    static List<Figure> take() throws Exception {
        Process service = Starts.startService();
        try {
            String password = Imports.prepared();
            return measure(password);
        } finally {
            service.destroy();
            service.waitFor();
        }
    }

    private static List<Figure> measure(String password) throws Exception {
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
                "--user-data-dir=" + Files.createTempDirectory("calmstep-bench"));
        ChromeDriver driver =
                new ChromeDriver(
                        new ChromeDriverService.Builder()
                                .usingDriverExecutable(Path.of("/usr/bin/chromedriver").toFile())
                                .build(),
                        options);
        try {
            driver.manage().timeouts().scriptTimeout(Duration.ofMinutes(1));
            driver.get(Imports.URL);
            wait(driver)
                    .until(
                            d ->
                                    !d.findElements(By.xpath("//label[contains(., 'Name')]"))
                                            .isEmpty());
            driver.findElements(By.tagName("input")).get(0).sendKeys("admin");
            driver.findElements(By.tagName("input")).get(1).sendKeys(password);
            driver.findElement(By.xpath("//button[normalize-space()='Sign in']")).click();
            sees(driver, "10000 devices shown");
            long start = System.nanoTime();
            driver.get(Imports.URL + "/fleet");
            sees(driver, "10000 devices shown");
            double shown = (System.nanoTime() - start) / 1e9;
            return List.of(
                    new Figure("table-shown", shown, "s", 4),
                    new Figure("table-sort", sort(driver), "ms", 250),
                    new Figure("table-filter", filter(driver), "s", 2),
                    new Figure("table-frame-p95", frames(driver), "ms", 34));
        } finally {
            driver.quit();
        }
    }

    private static WebDriverWait wait(WebDriver driver) {
        return new WebDriverWait(driver, Duration.ofSeconds(60), Duration.ofMillis(20));
    }

    private static void sees(WebDriver driver, String text) {
        wait(driver).until(d -> d.findElement(By.tagName("body")).getText().contains(text));
    }

    /** The median of sorting by each column, up and down. */
    private static double sort(ChromeDriver driver) {
        List<Double> times = new ArrayList<>();
        for (int column = 0;
                column < driver.findElements(By.cssSelector("th button")).size();
                column++) {
            for (int press = 0; press < 2; press++) {
                times.add(
                        number(
                                ((JavascriptExecutor) driver)
                                        .executeAsyncScript(
                                                PRESS,
                                                driver.findElements(By.cssSelector("th button"))
                                                        .get(column))));
            }
        }
        return Paths.median(times);
    }

    /**
     * From the last letter of a selection to its rows: our pause for typing, the service's answer,
     * and the drawing.
     */
    private static double filter(ChromeDriver driver) {
        List<Double> times = new ArrayList<>();
        for (String family : List.of("osmer-r6", "tarnel-t2", "corvane-v8")) {
            filterBy(driver, family, times);
        }
        driver.get(Imports.URL + "/fleet");
        sees(driver, "10000 devices shown");
        return Paths.median(times);
    }

    private static void filterBy(ChromeDriver driver, String family, List<Double> times) {
        var field = driver.findElement(By.cssSelector("input[aria-label='Select devices']"));
        field.sendKeys(
                org.openqa.selenium.Keys.chord(org.openqa.selenium.Keys.CONTROL, "a"),
                "family:" + family);
        long start = System.nanoTime();
        String before = driver.findElement(By.tagName("body")).getText();
        wait(driver)
                .until(
                        d ->
                                !d.findElement(By.cssSelector("p.lede")).getText().isEmpty()
                                        && !shown(d).equals(shown(before))
                                        && !shown(d).equals("10000"));
        times.add((System.nanoTime() - start) / 1e9);
    }

    private static String shown(WebDriver driver) {
        return shown(driver.findElement(By.tagName("body")).getText());
    }

    private static String shown(String body) {
        int at = body.indexOf(" devices shown");
        return at < 0 ? "" : body.substring(body.lastIndexOf('\n', at) + 1, at);
    }

    private static double number(@Nullable Object measured) {
        return ((Number) Objects.requireNonNull(measured)).doubleValue();
    }

    private static double frames(ChromeDriver driver) {
        List<?> times =
                (List<?>)
                        Objects.requireNonNull(
                                ((JavascriptExecutor) driver).executeAsyncScript(FRAMES));
        List<Double> sorted = times.stream().map(t -> ((Number) t).doubleValue()).sorted().toList();
        return sorted.get(sorted.size() * 95 / 100);
    }
}
