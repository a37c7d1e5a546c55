package calmstep.acceptance;

import calmstep.check.Await;
import calmstep.practice.MakerService;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * Takes the console's pictures for {@code docs/screenshots}, from a house with the demo's data. Run
 * by {@code bin/screenshots}.
 */
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
        browser.go(house.url() + "/plans/tonight?view=rehearsals");
        browser.choose("At", "rt-eskholm-1");
        browser.choose("goes wrong", "it stops in its boot loader at the next start");
        browser.press("Ask for it");
        browser.press("Rehearse with that");
        browser.within(Duration.ofMinutes(3)).sees("1 of 2 units settled");
        browser.picture(folder.resolve("console-rehearsal.png"));
        browser.go(house.url() + "/plans/tonight");
        browser.press("Approve");
        browser.press("Start the run of 2 units");
        browser.sees("What happens tonight, and who is affected?");
        house.awaitGate("tonight", "rt-eskholm-1");
        house.go("tonight", "rt-eskholm-1");
        house.awaitGate("tonight", "rt-dunmere-1");
        Await.until(
                Duration.ofSeconds(20),
                "the other one is on its way",
                () -> !house.machine("rt-eskholm-1").restarts().isEmpty());
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
        browser.go(house.url() + "/fleet-reach?down=rt-carrow-sound-1");
        browser.sees("18 other devices are cut off");
        browser.picture(folder.resolve("console-reach.png"));
        takeDiscovery(house, browser, folder);
        takeSources(house, browser, folder);
        house.planWinter();
        browser.go(house.url() + "/plans/winter?view=nights");
        browser.sees("no order takes fewer than");
        browser.picture(folder.resolve("console-nights.png"));
        browser.go(house.url() + "/paths?device=rt-aldwick-pier-1&to=recommended");
        browser.sees("How does rt-aldwick-pier-1 get to 2.8.2?");
        browser.sees("the same path");
        browser.picture(folder.resolve("console-path.png"));
        browser.go(house.url() + "/releases");
        browser.sees("Wending M2");
        browser.picture(folder.resolve("console-releases.png"));
    }

    private static void takeDiscovery(House house, Browser browser, Path folder) throws Exception {
        House.must(
                house.call(
                        "PUT",
                        "/api/logins/reads",
                        Map.of(
                                "user",
                                "",
                                "password",
                                "northmere-reads",
                                "snmp",
                                Map.of("version", "v2c"))));
        House.must(
                house.call(
                        "PUT",
                        "/api/discovery/ranges/quay",
                        Map.of(
                                "within",
                                List.of(house.own("127.40.29.0/26")),
                                "except",
                                List.of(house.own("127.40.29.32/28")),
                                "site",
                                "gullness-quay",
                                "login",
                                "steward",
                                "snmpLogin",
                                "reads",
                                "sshPort",
                                Integer.parseInt(house.own("2022")),
                                "snmpPort",
                                Integer.parseInt(house.own("2061")),
                                "perSecond",
                                40)));
        browser.go(house.url() + "/fleet-discovery");
        browser.press("Search quay");
        browser.sees("3 answered");
        House.must(
                house.call(
                        "POST",
                        "/api/discovery/accepted",
                        Map.of(
                                "candidates",
                                List.of(Map.of("address", house.own("127.40.29.9"))))));
        browser.sees("in the fleet");
        browser.picture(folder.resolve("console-discovery.png"));
    }

    private static void takeSources(House house, Browser browser, Path folder) throws Exception {
        Path pem = house.home().resolve("maker.pem");
        try (MakerService maker =
                        MakerService.open(
                                "127.69.0.1",
                                18199,
                                pem,
                                Map.of("northmere", "practice-only-3306"));
                Stream<Path> images = Files.list(house.image("osmer-r6c-2.8.2.img").getParent())) {
            for (Path image : images.filter(f -> f.toString().endsWith(".img")).sorted().toList()) {
                maker.publish(image);
            }
            maker.publish(House.TOP.resolve("demo/catalogue/osmer-r6.yaml"));
            House.must(
                    house.call(
                            "PUT",
                            "/api/sources/makers",
                            Map.of(
                                    "url",
                                    "https://127.69.0.1:18199",
                                    "user",
                                    "northmere",
                                    "password",
                                    "practice-only-3306",
                                    "certificate",
                                    Files.readString(pem))));
            browser.go(house.url() + "/releases-sources");
            browser.press("Ask what is new");
            browser.sees("new since last time");
            browser.sees("osmer-r6c-2.9.0.img");
            browser.picture(folder.resolve("console-sources.png"));
        }
    }
}
