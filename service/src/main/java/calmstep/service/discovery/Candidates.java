package calmstep.service.discovery;

import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.text.Complaint;
import calmstep.core.text.RejectedText;
import calmstep.dialect.Recognition.Shows;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.problems.Refusal;
import calmstep.service.releases.Dialects;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What answered in a search, and what a person says of it. */
@Component
class Candidates {
    private final CandidateRows rows;
    private final RangeRows ranges;
    private final Fleet fleet;
    private final Dialects dialects;
    private final Events events;
    private final Clock clock;

    Candidates(
            CandidateRows rows,
            RangeRows ranges,
            Fleet fleet,
            Dialects dialects,
            Events events,
            Clock clock) {
        this.rows = rows;
        this.ranges = ranges;
        this.fleet = fleet;
        this.dialects = dialects;
        this.events = events;
        this.clock = clock;
    }

    /**
     * A candidate.
     *
     * @param state {@code found}, {@code in-fleet} where its address is a device's already, or
     *     {@code dropped}
     * @param device the device at its address; empty where there is none
     * @param toKnow what a person should know before accepting it; empty where nothing stands out
     */
    record CandidateView(
            String address,
            String range,
            String state,
            String device,
            String name,
            String family,
            String model,
            String revision,
            String serial,
            String release,
            String shows,
            String toKnow,
            Instant firstSeen,
            Instant lastSeen) {}

    /**
     * A candidate that is accepted, or an address that a person adds by hand; what is said goes
     * before what was found.
     */
    record Accepted(
            String address,
            @Nullable String name,
            @Nullable String family,
            @Nullable String model,
            @Nullable String revision,
            @Nullable String serial,
            @Nullable String site,
            @Nullable String role,
            @Nullable String login,
            @Nullable Integer port) {}

    @Transactional
    void saw(String range, String address, Shows shows) {
        CandidateRow row = rows.findByAddress(address).orElseGet(CandidateRow::new);
        if (row.address.isEmpty()) {
            row.address = address;
            row.firstSeen = clock.instant();
        }
        row.rangeName = range;
        row.lastSeen = clock.instant();
        Optional<String> family = dialects.recognise(shows);
        row.saw(
                family.map(f -> dialects.require(f).recognition().completed(shows)).orElse(shows),
                family.orElse(""));
        rows.save(row);
    }

    /**
     * @param withDropped whether those that a person dropped are told as well
     */
    @Transactional(readOnly = true)
    List<CandidateView> all(boolean withDropped) {
        Map<String, Device> byAddress =
                fleet.devices().stream()
                        .collect(Collectors.toMap(Device::address, Function.identity()));
        return rows.findAllByOrderById().stream()
                .filter(row -> withDropped || !row.state.equals("dropped"))
                .map(row -> view(row, Optional.ofNullable(byAddress.get(row.address))))
                .toList();
    }

    private static CandidateView view(CandidateRow row, Optional<Device> known) {
        String state = stateOf(known, row);
        return new CandidateView(
                row.address,
                row.rangeName,
                state,
                known.map(Device::name).orElse(""),
                row.hostName,
                row.family,
                row.model,
                row.revision,
                row.serial,
                row.release,
                row.description.isEmpty() ? row.greeting : row.description,
                toKnow(row, known),
                row.firstSeen,
                row.lastSeen);
    }

    private static String stateOf(Optional<Device> known, CandidateRow row) {
        String state =
                known.isPresent() ? "in-fleet" : row.state.equals("dropped") ? "dropped" : "found";
        return state;
    }

    private static String toKnow(CandidateRow row, Optional<Device> known) {
        if (row.state.equals("dropped")) {
            return "dropped: " + row.droppedWhy;
        }
        if (known.isEmpty()) {
            return row.family.isEmpty()
                    ? "no dialect knows \"%s\"; say its family"
                            .formatted(row.description.isEmpty() ? row.greeting : row.description)
                    : row.hostName.isEmpty() ? "it tells no name; say one" : "";
        }
        Device device = known.get();
        List<String> differs = new ArrayList<>();
        differs(differs, "serial", device.serial(), row.serial);
        differs(differs, "model", device.hardware().model(), row.model);
        differs(differs, "family", device.family(), row.family);
        return String.join("; ", differs);
    }

    private static void differs(List<String> differs, String what, String written, String shown) {
        if (!written.isEmpty() && !shown.isEmpty() && !written.equals(shown)) {
            differs.add("the inventory says %s %s, it shows %s".formatted(what, written, shown));
        }
    }

    /**
     * Takes candidates into the inventory, all or none of them.
     *
     * @throws Refusal when something is missing or taken already
     */
    @Transactional
    Fleet.Imported accept(List<Accepted> accepted, String who) {
        Map<String, CandidateRow> found =
                rows.findByAddressIn(accepted.stream().map(Accepted::address).toList()).stream()
                        .collect(Collectors.toMap(r -> r.address, r -> r));
        Set<String> names = fleet.devices().stream().map(Device::name).collect(Collectors.toSet());
        List<String> wrong = new ArrayList<>();
        List<Device> devices =
                accepted.stream()
                        .map(one -> device(one, Optional.ofNullable(found.get(one.address()))))
                        .toList();
        collectWrong(devices, wrong, names);
        mustBeWhole(wrong);
        Fleet.Imported taken = add(devices, who);
        found.values().forEach(row -> row.state = "accepted");
        return taken;
    }

    private static void mustBeWhole(List<String> wrong) {
        if (!wrong.isEmpty()) {
            throw Refusal.unusable(
                    "Nothing was accepted: %s."
                            .formatted(
                                    wrong.size() == 1
                                            ? "one thing is missing"
                                            : wrong.size() + " things are missing"),
                    wrong);
        }
    }

    private static void collectWrong(List<Device> devices, List<String> wrong, Set<String> names) {
        for (Device device : devices) {
            missing(device).ifPresent(wrong::add);
            if (!device.name().isEmpty() && !names.add(device.name())) {
                wrong.add(
                        "%s: there is a device %s already. Say another name."
                                .formatted(device.address(), device.name()));
            }
        }
    }

    /** Lines and columns of a text that nobody wrote would tell nobody anything. */
    private Fleet.Imported add(List<Device> devices, String who) {
        try {
            return fleet.add(devices, who);
        } catch (RejectedText rejected) {
            throw Refusal.unusable(
                    "Nothing was accepted.",
                    rejected.complaints().stream().map(Complaint::sentence).toList());
        }
    }

    private Device device(Accepted said, Optional<CandidateRow> found) {
        Optional<RangeRow> range = found.flatMap(row -> ranges.findById(row.rangeName));
        Hardware hardware = hardwareOf(said, found);
        return new Device(
                said(said.name(), found, r -> r.hostName).toLowerCase(java.util.Locale.ROOT),
                said(said.family(), found, r -> r.family),
                hardware,
                said(said.serial(), found, r -> r.serial),
                said(said.site(), range, r -> r.site),
                said(said.role(), range, _ -> ""),
                said.address(),
                Optional.ofNullable(said.port()).or(() -> range.map(r -> r.sshPort)).orElse(22),
                0,
                said(said.login(), range, r -> r.login),
                true,
                Map.of(),
                "");
    }

    private static Hardware hardwareOf(Accepted said, Optional<CandidateRow> found) {
        Hardware hardware =
                new Hardware(
                        said(said.model(), found, r -> r.model),
                        said(said.revision(), found, r -> r.revision),
                        "",
                        "",
                        Set.of());
        return hardware;
    }

    private static <T> String said(
            @Nullable String given, Optional<T> found, Function<T, String> otherwise) {
        return Optional.ofNullable(given)
                .filter(g -> !g.isEmpty())
                .or(() -> found.map(otherwise))
                .orElse("");
    }

    private static Optional<String> missing(Device device) {
        List<String> missing = lacks(device);
        return missing.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        "%s: it needs %s; say it."
                                .formatted(device.address(), String.join(", ", missing)));
    }

    private static List<String> lacks(Device device) {
        List<String> missing = new ArrayList<>();
        Map.of(
                        "a name",
                        device.name(),
                        "a family",
                        device.family(),
                        "a site",
                        device.site(),
                        "a login",
                        device.logins().getFirst())
                .entrySet()
                .stream()
                .sorted(Map.Entry.comparingByKey())
                .filter(e -> e.getValue().isEmpty())
                .forEach(e -> missing.add(e.getKey()));
        return missing;
    }

    /** These are none of ours, or do not exist; later searches leave them dropped. */
    @Transactional
    void drop(List<String> addresses, String why, String who) {
        List<CandidateRow> found = rows.findByAddressIn(addresses);
        mustBeFound(addresses, found);
        found.forEach(
                row -> {
                    row.state = "dropped";
                    row.droppedWhy = why;
                });
        events.append(
                Optional.empty(),
                String.join(", ", addresses),
                "fleet",
                who,
                "Dropped from what was found: %s. %s".formatted(String.join(", ", addresses), why));
    }

    private static void mustBeFound(List<String> addresses, List<CandidateRow> found) {
        List<String> unknown =
                addresses.stream()
                        .filter(a -> found.stream().noneMatch(row -> row.address.equals(a)))
                        .toList();
        if (!unknown.isEmpty()) {
            throw Refusal.notFound("candidate", String.join(", ", unknown));
        }
    }
}
