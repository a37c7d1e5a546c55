package calmstep.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.check.Sweep;
import calmstep.practice.Fault;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * Random nights over random truths: inventories that are wrong, little room, sites without a
 * window, colleagues, faults, and whatever words are offered. What is true is asked from the
 * stand-ins themselves, never from the service.
 */
@Order(2)
class RandomNightTest {
    private static final int NIGHTS = Sweep.count(2, 25);
    private static final int UNITS = 8;
    private static final String TARGET = "2.8.2";

    /** What a device's own word bars: the boxes are of revision C. */
    private static final String OF_ANOTHER_BOX = "osmer-r6b";

    private static final Pattern NAMED =
            Pattern.compile(
                    "Staged and proven: the image of (.*?)\\. (?:The image|Its configuration)");
    private static final List<Fault> FAULTS =
            List.of(
                    Fault.DAMAGES_NEXT_COPY,
                    Fault.CUTS_NEXT_COPY,
                    Fault.RUNS_OUT_OF_ROOM,
                    Fault.ASKS_SOMETHING_NEW,
                    Fault.STOPS_IN_BOOT_LOADER,
                    Fault.STARTS_THE_OLD_IMAGE,
                    Fault.FORGETS_THE_CHOICE,
                    Fault.LOSES_A_LINK,
                    Fault.LOSES_A_LICENCE,
                    Fault.REWRITES_A_LINE,
                    Fault.COMPLAINS_AT_ITS_START,
                    Fault.RESTARTS_IN_A_COPY);
    private static final List<String> NAMES =
            IntStream.range(0, NIGHTS * UNITS).mapToObj(n -> "rt-%s".formatted(100 + n)).toList();
    private static final Random TRUTH = new Random(Sweep.ofTheDay());
    private static final Map<String, String> RUNS =
            NAMES.stream()
                    .collect(
                            Collectors.toMap(
                                    name -> name, _ -> one(List.of("2.4.0", "2.6.3", "2.6.3"))));
    private static final Set<String> LACK_A_FEED = new HashSet<>();
    private static House house;

    private static <T> T one(List<T> of) {
        return of.get(TRUTH.nextInt(of.size()));
    }

    private static boolean oneIn(int many) {
        return TRUTH.nextInt(many) == 0;
    }

    @BeforeAll
    static void build() throws Exception {
        Routers routers = new Routers(NAMES, RUNS::get, 60, 4_000_000);
        String fleet = routers.fleet();
        for (String name : NAMES) {
            fleet =
                    fleet.replaceFirst(
                            "(name: %s, .*?flash-bytes: )60000000".formatted(name),
                            "$1" + one(List.of("60000000", "60000000", "34000000", "30000000")));
        }
        house = House.of(18, fleet);
        String devices = routers.devices(_ -> one(List.of("dunmere", "eskholm")));
        for (String name : NAMES) {
            if (oneIn(5)) {
                devices =
                        devices.replaceFirst(
                                "(name: %s, .*?)revision: C".formatted(name), "$1revision: B");
            }
            if (oneIn(4)) {
                house.machine(name)
                        .changeSettings("way 192.0.2.%s/32 unsaved".formatted(TRUTH.nextInt(200)));
            }
            if (oneIn(4)) {
                house.machine(name).add(Fault.LOSES_A_FEED);
                LACK_A_FEED.add(name);
            }
            if (oneIn(4)) {
                Files.write(
                        house.fleet().storage(name).resolve("colleague.tar"), new byte[2_000_000]);
            }
        }
        house.prepared(
                house.own(
                        """
                        inventory: 1
                        sites:
                          - { name: dunmere, title: Dunmere, zone: UTC }
                          - { name: eskholm, title: Eskholm, zone: UTC }
                        devices:
                        """
                                + devices));
        // Dunmere may be disturbed at any time, Eskholm never while this runs.
        House.must(
                house.call(
                        "PUT",
                        "/api/windows?file=windows.yaml",
                        """
                        windows: 1
                        open:
                          - { name: always, sites: [dunmere], rule: FREQ=DAILY, from: "00:00", until: "00:00" }
                          - { name: far, sites: [eskholm], rule: FREQ=YEARLY;BYMONTH=7;BYMONTHDAY=1, from: "01:00", until: "04:00" }
                        limits: { pilots: 0, at-once-a-site: 8, at-once: 8, soak: 0 s, stop-at: 99 }
                        """));
    }

    @AfterAll
    static void tearDown() throws Exception {
        house.close();
    }

    /** What is remembered of a device before anything is done to it. */
    private record Before(String release, Set<String> settings, Set<String> files) {}

    private final Map<String, Before> before = new TreeMap<>();
    private final Set<String> mayGoOutside = new HashSet<>();
    private final Set<String> told = new HashSet<>();
    private final Set<String> staysAsItIs = new HashSet<>();
    private final RandomPerson person = new RandomPerson(house, TRUTH, new OnSite());
    private int boxes;

    @Test
    void whatIsSaidIsTrueWhateverHappens() throws Exception {
        for (int night = 0; night < NIGHTS; night++) {
            List<String> devices = NAMES.subList(night * UNITS, (night + 1) * UNITS);
            String run = "night-%s".formatted(night);
            devices.forEach(this::remember);
            planned(run, devices);
            devices.forEach(this::unwellIsSaid);
            devices.stream().filter(_ -> oneIn(2)).forEach(RandomNightTest::misbehaves);
            if (isUsed(run)) {
                person.plays(run);
                judged(run, devices);
            }
            devices.forEach(this::leftAlone);
        }
        System.out.printf("random nights: %s, seed %s%n", person.happened(), Sweep.ofTheDay());
        assertThat(person.happened()).containsKeys("gate", "settled");
    }

    private void remember(String device) {
        before.put(
                device,
                new Before(
                        house.machine(device).release(),
                        new TreeSet<>(house.machine(device).keptSettings()),
                        house.machine(device).flash().files().keySet()));
    }

    private static void misbehaves(String device) {
        house.machine(device).add(one(FAULTS));
    }

    // a person's words before the run

    private void planned(String run, List<String> devices) {
        House.must(
                house.call(
                        "POST",
                        "/api/plans",
                        Map.of(
                                "name", run, "devices", devices, "target", TARGET, "begins",
                                "now")));
        for (JsonNode finding : house.get("/api/plans/" + run).path("findings")) {
            told.add(finding.path("device").asString() + ": " + finding.path("fact").asString());
            if (!finding.path("severity").asString().equals("note")) {
                acknowledged(run, finding);
            }
        }
        JsonNode plan = house.get("/api/plans/" + run);
        plan.path("units")
                .valueStream()
                .filter(unit -> unit.path("leftOut").asBoolean())
                .forEach(unit -> staysAsItIs.add(unit.path("device").asString()));
        Set<String> planned =
                plan.path("units")
                        .valueStream()
                        .map(unit -> unit.path("device").asString())
                        .collect(Collectors.toSet());
        devices.stream().filter(device -> !planned.contains(device)).forEach(staysAsItIs::add);
        if (house.call("POST", "/api/plans/%s/approval".formatted(run), Map.of()).status() < 300) {
            house.start(run);
        } else {
            staysAsItIs.addAll(devices);
        }
    }

    /** With a choice that is offered, or it is left out, which goes for anything. */
    private void acknowledged(String run, JsonNode finding) {
        String device = finding.path("device").asString();
        List<String> choices =
                finding.path("choices").valueStream().map(JsonNode::asString).toList();
        boolean leaves = choices.isEmpty() || (oneIn(12) && !device.isEmpty());
        String choice = leaves ? "leave-out" : one(choices);
        House.Answer answer =
                house.call(
                        "POST",
                        "/api/plans/%s/acknowledgements".formatted(run),
                        Map.of(
                                "finding",
                                finding.path("key").asString(),
                                "choice",
                                choice,
                                "reason",
                                "drawn"));
        assertThat(answer.status())
                .as("%s: %s: %s", finding, choice, answer.body())
                .isLessThan(300);
        if (!choice.equals("leave-out")
                && finding.path("key").asString().contains("/outside-windows-")) {
            mayGoOutside.add(device);
        }
    }

    private static boolean isUsed(String run) {
        return house.get("/api/plans/" + run).path("state").asString().equals("used");
    }

    // what is done where the devices are

    private final class OnSite implements RandomPerson.OnSite {
        @Override
        public void readsTheGate(String run, String device, String question) {
            gateIsTrue(run, device, question);
            if (oneIn(5)) {
                house.machine(device).changeSettings("way 198.51.100.9/32 by a colleague");
                house.machine(device).keepSettings();
            }
        }

        /** On the release from which the hop leads on at which it is stuck. */
        @Override
        public Map<String, String> putsIn(String run, String device, JsonNode trouble) {
            String serial = "OS6-9%s".formatted(100 + boxes++);
            int hop =
                    house.unit(run, device)
                            .path("steps")
                            .valueStream()
                            .filter(step -> step.path("state").asString().equals("failed"))
                            .findFirst()
                            .orElseThrow()
                            .path("hop")
                            .asInt();
            String from = hops(run, device).get(hop - 1).path("hop").path("from").asString();
            house.fleet().replace(device, serial, "osmer-r6c-%s.img".formatted(from));
            return Map.of("serial", serial);
        }

        @Override
        public void begins(String device) {
            mayGoOutside.add(device);
        }
    }

    private static List<JsonNode> hops(String run, String device) {
        return house.get("/api/plans/" + run)
                .path("units")
                .valueStream()
                .filter(unit -> unit.path("device").asString().equals(device))
                .flatMap(unit -> unit.path("hops").valueStream())
                .toList();
    }

    // the oracle

    /** Whoever approves reads whose power is not redundant, of these and of no others. */
    private void unwellIsSaid(String device) {
        assertThat(
                        told.stream()
                                .anyMatch(
                                        one ->
                                                one.contains(
                                                        ": %s: power b is out".formatted(device))))
                .as("%s lacks a feed, and that is said: %s", device, told)
                .isEqualTo(LACK_A_FEED.contains(device));
    }

    /** What a gate says of images is so on the device at this moment. */
    private void gateIsTrue(String run, String device, String question) {
        List<String> releases =
                hops(run, device).stream()
                        .map(hop -> hop.path("hop").path("to").asString())
                        .toList();
        List<String> said = new ArrayList<>();
        if (question.contains("image is staged and proven")
                || question.contains("images are staged and proven")) {
            said.addAll(remaining(device, releases));
        }
        NAMED.matcher(question)
                .results()
                .forEach(found -> said.addAll(List.of(found.group(1).split(", "))));
        said.stream()
                .filter(releases::contains)
                .forEach(
                        release ->
                                assertThat(isWhole(device, "osmer-r6c-%s.img".formatted(release)))
                                        .as("%s of %s, by its gate: %s", release, device, question)
                                        .isTrue());
    }

    /** Of a path that has gone a part of its way, what lies ahead. */
    private static List<String> remaining(String device, List<String> releases) {
        int at = releases.indexOf(house.machine(device).release());
        return releases.subList(at + 1, releases.size());
    }

    private static boolean isWhole(String device, String file) {
        Path there = house.fleet().storage(device).resolve(file);
        try {
            return Files.exists(there) && Files.mismatch(there, house.image(file)) < 0;
        } catch (IOException unreadable) {
            throw new IllegalStateException(unreadable);
        }
    }

    private void judged(String run, List<String> devices) {
        JsonNode account = house.get("/api/records/%s/account".formatted(run));
        for (JsonNode unit : house.get("/api/runs/" + run).path("units")) {
            String device = unit.path("device").asString();
            String story = "%s in %s, seed %s".formatted(device, run, Sweep.ofTheDay());
            JsonNode line =
                    account.path("units")
                            .valueStream()
                            .filter(one -> one.path("device").asString().equals(device))
                            .findFirst()
                            .orElseThrow();
            Set<String> gone = new TreeSet<>(before.get(device).settings());
            gone.removeAll(house.machine(device).keptSettings());
            boolean borne =
                    !unit.path("doubt").path("by").isNull() && unit.path("doubt").isObject();
            person.saw(unit.path("state").asString());
            switch (unit.path("state").asString()) {
                case "settled" -> {
                    assertThat(house.machine(device).release()).as(story).isEqualTo(TARGET);
                    assertThat(gone.isEmpty() || borne)
                            .as("%s: lines are gone and nobody bore it: %s", story, gone)
                            .isTrue();
                    assertThat(line.path("lost").isEmpty() || borne)
                            .as("%s: lost and settled: %s", story, line.path("lost"))
                            .isTrue();
                }
                case "returned" ->
                        assertThat(house.machine(device).release())
                                .as(story)
                                .isIn(before.get(device).release(), "2.6.3");
                default -> {}
            }
            assertThat(
                            house.machine(device).restarts().isEmpty()
                                    || !isShut(device)
                                    || mayGoOutside.contains(device))
                    .as("%s: restarted outside its windows, and nobody bore that", story)
                    .isTrue();
        }
        devices.forEach(
                device ->
                        assertThat(house.machine(device).flash().files().keySet())
                                .as("images of another box on %s", device)
                                .noneMatch(file -> file.startsWith(OF_ANOTHER_BOX)));
    }

    private static boolean isShut(String device) {
        return house.get("/api/devices/" + device).path("site").asString().equals("eskholm");
    }

    /** Who was left out, or could not be planned, is as it was. */
    private void leftAlone(String device) {
        if (staysAsItIs.contains(device)) {
            assertThat(house.machine(device).restarts()).as(device).isEmpty();
            assertThat(house.machine(device).flash().files().keySet())
                    .as(device)
                    .isEqualTo(before.get(device).files());
        }
    }
}
