package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Sweep;
import calmstep.practice.Fault;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * A random night of units of several members: stacks that restart one member after the other or as
 * a whole, pairs that are drained before they hand over, members that stay away and are swapped.
 * What is true is asked from the stand-ins themselves, never from the service.
 */
@Order(2)
class RandomUnitsTest {
    private static final String RUN = "units";

    /** How many members each has. */
    private static final Map<String, Integer> UNITS =
            new TreeMap<>(
                    Map.of(
                            "sw-dunmere-1", 3,
                            "sw-millhaven-2", 3,
                            "sw-ostrand-1", 2,
                            "sw-eskholm-1", 2,
                            "fw-millhaven", 2,
                            "fw-ostrand", 2));

    private static final List<Fault> FAULTS =
            List.of(
                    Fault.STARTS_THE_OLD_IMAGE,
                    Fault.FORGETS_THE_CHOICE,
                    Fault.DAMAGES_NEXT_COPY,
                    Fault.CUTS_NEXT_COPY,
                    Fault.LOSES_A_LINK,
                    Fault.LOSES_A_LICENCE,
                    Fault.REWRITES_A_LINE,
                    Fault.KEEPS_A_FLOW,
                    Fault.ASKS_SOMETHING_NEW);
    private static final Pattern MEMBER = Pattern.compile("member (\\w+): ");

    private static final Random TRUTH = new Random(Sweep.ofTheDay());
    private static House house;
    private int boxes;

    @BeforeAll
    static void build() throws Exception {
        House.writeImages("practice-images.yaml");
        String switches = Files.readString(House.TOP.resolve("demo/practice-switches.yaml"));
        String firewalls = Files.readString(House.TOP.resolve("demo/practice-brannoch-b2.yaml"));
        house =
                House.of(
                        21,
                        switches.replace("t2-5.4.3-48.bin", "t2-6.1.0-48.bin")
                                + firewalls.substring(
                                        firewalls.indexOf("machines:\n") + "machines:\n".length()));
        house.importNorthmere();
        house.setStewardLogin();
        House.must(
                house.call(
                        "PUT",
                        "/api/windows?file=windows.yaml",
                        """
                        windows: 1
                        open: [{ name: always, rule: FREQ=DAILY, from: "00:00", until: "00:00" }]
                        limits: { pilots: 0, at-once-a-site: 8, at-once: 8, soak: 0 s, stop-at: 99 }
                        """));
        for (String family : List.of("t2-", "b2-")) {
            for (String image : images(family)) {
                house.call("PUT", "/api/shelf/images/" + image, house.image(image));
            }
        }
        house.read(List.copyOf(UNITS.keySet()));
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    private static List<String> images(String family) throws IOException {
        try (var files = Files.list(house.image(""))) {
            return files.map(file -> file.getFileName().toString())
                    .filter(name -> name.startsWith(family))
                    .sorted()
                    .toList();
        }
    }

    private static <T> T one(List<T> of) {
        return of.get(TRUTH.nextInt(of.size()));
    }

    @Test
    void noWordThatIsOfferedIsRefusedAndWhoIsMissedWasBorne() {
        House.must(
                house.call(
                        "POST",
                        "/api/plans",
                        Map.of(
                                "name",
                                RUN,
                                "devices",
                                List.copyOf(UNITS.keySet()),
                                "target",
                                "newest-general",
                                "begins",
                                "now")));
        house.acknowledge(RUN);
        House.must(house.call("POST", "/api/plans/%s/approval".formatted(RUN), Map.of()));
        house.start(RUN);
        UNITS.keySet().forEach(unit -> house.fleet().add(unit, one(FAULTS)));
        RandomPerson person = new RandomPerson(house, TRUTH, new OnSite());
        person.plays(RUN);
        for (JsonNode unit : house.get("/api/runs/" + RUN).path("units")) {
            person.saw(unit.path("state").asString());
            judged(unit);
        }
        System.out.printf("random units: %s, seed %s%n", person.happened(), Sweep.ofTheDay());
    }

    private static int numberOf(String member) {
        return switch (member) {
            case "left" -> 1;
            case "right" -> 2;
            default -> Integer.parseInt(member);
        };
    }

    private final class OnSite implements RandomPerson.OnSite {
        /** An image that is said to be there is on each member that is. */
        @Override
        public void readsTheGate(String run, String device, String question) {
            if (TRUTH.nextBoolean()) {
                house.fleet().add(device, Fault.DOES_NOT_REJOIN);
            }
            if (question.contains("image is staged and proven")
                    || question.contains("images are staged and proven")) {
                List<JsonNode> hops = planned(device).path("hops").valueStream().toList();
                for (JsonNode image : hops.getFirst().path("hop").path("images")) {
                    String file = image.path("fileName").asString();
                    IntStream.rangeClosed(1, UNITS.get(device))
                            .forEach(
                                    member ->
                                            assertThat(isWhole(device, member, file))
                                                    .as("%s on %s %s", file, device, member)
                                                    .isTrue());
                }
            }
        }

        /** Stand-ins of several members are not put in as a whole. */
        @Override
        public boolean canBeDone(String way) {
            return !way.equals("replace");
        }

        @Override
        public Map<String, String> putsIn(String run, String device, JsonNode trouble) {
            String serial = "NEW-%s".formatted(boxes++);
            Matcher out = MEMBER.matcher(trouble.path("seen").asString());
            assertThat(out.find()).as(trouble.toString()).isTrue();
            String runs = runs(device);
            house.fleet().replaceMember(device, numberOf(out.group(1)), serial, runs);
            return Map.of("member", out.group(1), "serial", serial);
        }

        @Override
        public void begins(String device) {
            throw new AssertionError(device + " has no window that could close");
        }
    }

    /** What the one that serves runs now. */
    private static String runs(String device) {
        house.read(List.of(device));
        return house.get("/api/devices/" + device)
                .path("reading")
                .path("boot")
                .path("running")
                .asString();
    }

    private static boolean isWhole(String device, int member, String file) {
        Path there = house.fleet().member(device, member).flash().file(file);
        try {
            return Files.exists(there) && Files.mismatch(there, house.image(file)) < 0;
        } catch (IOException unreadable) {
            throw new IllegalStateException(unreadable);
        }
    }

    private static JsonNode planned(String device) {
        return house.get("/api/plans/" + RUN)
                .path("units")
                .valueStream()
                .filter(unit -> unit.path("device").asString().equals(device))
                .findFirst()
                .orElseThrow();
    }

    /** Each member runs what was wanted, or somebody who knew it bore that one does not. */
    private static void judged(JsonNode unit) {
        String device = unit.path("device").asString();
        String story = "%s, seed %s".formatted(device, Sweep.ofTheDay());
        List<String> run =
                IntStream.rangeClosed(1, UNITS.get(device))
                        .mapToObj(member -> house.fleet().member(device, member).release())
                        .toList();
        boolean isBorne = unit.path("doubt").isObject() && !unit.path("doubt").path("by").isNull();
        if (unit.path("state").asString().equals("settled")) {
            assertThat(run.stream().allMatch(unit.path("to").asString()::equals) || isBorne)
                    .as("%s settled on %s: %s", story, unit.path("to"), run)
                    .isTrue();
        }
    }
}
