package calmstep.acceptance;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;

/** Takes the console's pictures for {@code docs/screenshots}, from a house with the demo's data. Run by {@code bin/screenshots}. */
final class Screenshots {
    private Screenshots() {}

    public static void main(String[] arguments) throws Exception {
        Path folder = Path.of(arguments[0]);
        try (House house = House.ofTheDemo(9)) {
            house.prepared(house.demoFile("inventory.yaml"));
            try (Browser browser = Browser.open(house.home().resolve("chromium"))) {
                take(house, browser, folder);
            }
        }
    }

    private static void take(House house, Browser browser, Path folder) throws Exception {
        browser.go(house.url());
        browser.fill("Name", "admin");
        browser.fill("Password", house.adminPassword());
        browser.press("Sign in");
        browser.sees("Who is behind?");
        browser.follow("rt-eskholm-1");
        browser.sees("unsaved changes");
        browser.picture(folder.resolve("console-device.png"));
        browser.go(house.url() + "/plans");
        browser.fill("Name", "tonight");
        browser.press("Draft a plan");
        browser.sees("Not ready");
        browser.picture(folder.resolve("console-plan.png"));
        browser.press("Save them first");
        browser.press("Approve");
        browser.press("Start the run of 2 units");
        browser.sees("What happens tonight, and who is affected?");
        house.awaitGate("tonight", "rt-eskholm-1");
        house.go("tonight", "rt-eskholm-1");
        house.awaitGate("tonight", "rt-dunmere-1");
        House.await(Duration.ofSeconds(20), "the other one is on its way", () -> !house.machine("rt-eskholm-1").restarts().isEmpty());
        browser.sees("Gate before rt-dunmere-1");
        browser.picture(folder.resolve("console-tonight.png"));
        browser.press("Go");
        browser.within(Duration.ofSeconds(60)).sees("Nothing any more.");
        browser.follow("Records");
        browser.sees("2 of 2");
        browser.picture(folder.resolve("console-records.png"));
        browser.go(house.url() + "/api/records/tonight/page");
        browser.sees("What was done in tonight?");
        browser.picture(folder.resolve("record-page.png"));
        takeNorthmere(house, browser, folder);
        Files.writeString(house.home().resolve("done"), "");
    }

    /** The pages that need a whole fleet. */
    private static void takeNorthmere(House house, Browser browser, Path folder) throws Exception {
        house.importNorthmere();
        browser.go(house.url() + "/fleet");
        browser.sees("64 devices shown");
        browser.picture(folder.resolve("console-fleet.png"));
        browser.go(house.url() + "/fleet-exposure");
        browser.sees("NF-26-03");
        browser.picture(folder.resolve("console-exposure.png"));
        browser.go(house.url() + "/paths?device=rt-aldwick-pier-1&to=recommended");
        browser.sees("How does rt-aldwick-pier-1 get to 2.8.2?");
        browser.sees("the same path");
        browser.picture(folder.resolve("console-path.png"));
        browser.go(house.url() + "/paths?device=vg-eskholm&to=recommended");
        browser.sees("How does vg-eskholm get to 2026.06?");
        browser.sees("the same path");
        browser.picture(folder.resolve("console-path-boards.png"));
        browser.go(house.url() + "/releases");
        browser.sees("Wending M2");
        browser.picture(folder.resolve("console-releases.png"));
    }
}
