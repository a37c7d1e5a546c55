package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** The same job in the console, in a real browser. */
@Order(5)
class ConsoleTest {
    private static House house;
    private static Browser browser;

    @BeforeAll
    static void build() throws Exception {
        house = House.ofTheDemo(5);
        house.prepared(house.demoFile("inventory.yaml"));
        browser = Browser.open(house.home().resolve("chromium"));
    }

    @AfterAll
    static void tearDown() throws Exception {
        browser.close();
        house.close();
    }

    @Test
    void fromSignInToRecord() throws Exception {
        browser.go(house.url());
        browser.fill("Name", "admin");
        browser.fill("Password", "not the password");
        browser.press("Sign in");
        browser.sees("The name or the password is not right.");
        browser.fill("Password", house.adminPassword());
        browser.press("Sign in");

        browser.sees("Who is behind?");
        browser.sees("2 of 2 devices, against what the makers recommend.");
        browser.sees("in 2 hops");
        isAccessible("Fleet");
        browser.follow("rt-eskholm-1");
        browser.sees("has unsaved changes");
        isAccessible("one device");
        browser.follow("Releases");
        browser.sees("2.8 takes over settings only from 2.6.3 or later");
        isAccessible("Releases");

        browser.follow("Fleet");
        browser.find(By.cssSelector("input[aria-label='mark rt-dunmere-1']")).click();
        browser.find(By.cssSelector("input[aria-label='mark rt-eskholm-1']")).click();
        browser.press("Plan these");
        browser.fill("Name", "tonight");
        browser.press("Draft a plan");
        browser.sees("Not ready: 1 finding is open.");
        isAccessible("one plan");
        browser.press("Leave the device out");
        browser.sees("left out");
        browser.follow("rehearsals");
        browser.press("Rehearse, with nothing going wrong");
        browser.within(Duration.ofMinutes(3)).sees("1 of 1 unit settled");
        isAccessible("a rehearsal");
        assertThat(house.machine("rt-dunmere-1").restarts()).as("no device was touched").isEmpty();
        assertThat(house.machine("rt-dunmere-1").flash().files())
                .doesNotContainKey("osmer-r6c-2.8.2.img");
        browser.follow("units and findings");
        browser.press("Approve");
        browser.press("Start the run of 1 unit");

        browser.sees("Gate before rt-dunmere-1");
        browser.sees("Dunmere ticket hall and quay office");
        isAccessible("Tonight at the gate");
        browser.press("Go");
        browser.within(Duration.ofMinutes(2)).sees("Nothing any more.");
        assertThat(house.machine("rt-dunmere-1").release()).isEqualTo("2.8.2");
        assertThat(house.machine("rt-eskholm-1").restarts()).as("left out").isEmpty();

        browser.follow("Records");
        browser.sees("1 of 1");
        isAccessible("Records");
        everyPageOfAFleetAnswersItsQuestion();
        assertThat(browser.complaints()).as("what the browser wrote to its log").isEmpty();
    }

    /** The pages that look over a whole fleet, each with what it must say. */
    private static void everyPageOfAFleetAnswersItsQuestion() throws Exception {
        house.importNorthmere();
        house.planWinter();
        Map<String, String> pages = new LinkedHashMap<>();
        pages.put("/plans/winter", "moves inside, dark for");
        pages.put("/fleet-reach?plan=winter", "Step 1 of");
        pages.put("/plans/winter?view=nights", "Part 1 of vg-eskholm needs");
        pages.put("/fleet?view=figure", "4 or more");
        pages.put("/fleet-exposure?where=family:osmer-r6", "NF-26-04");
        pages.put("/fleet-reach?down=rt-carrow-sound-1", "18 other devices are cut off");
        pages.put("/fleet-discovery", "Nothing was found yet");
        pages.put("/releases-sources", "No download service is known yet");
        pages.put("/paths?device=fw-ostrand&to=recommended", "hands over to its partner");
        pages.put(
                "/paths?family=osmer-r6&model=R6-4&revision=B&runs=2.6.3&to=2.8.2",
                "nobody owns it");
        for (Map.Entry<String, String> page : pages.entrySet()) {
            browser.go(house.url() + page.getKey());
            browser.sees(page.getValue());
            isAccessible(page.getKey());
        }
    }

    private static void isAccessible(String page) throws Exception {
        String axe =
                Files.readString(House.TOP.resolve("console/node_modules/axe-core/axe.min.js"));
        List<String> violations = browser.violations(axe);
        assertThat(violations).as("accessibility of %s", page).isEmpty();
    }
}
