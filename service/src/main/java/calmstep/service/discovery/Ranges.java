package calmstep.service.discovery;

import calmstep.core.discover.AddressSpace;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Logins;
import calmstep.service.problems.Refusal;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Where to look for devices, kept for next time. */
@Component
class Ranges {
    private static final int MOST_PER_SECOND = 500;

    private final RangeRows rows;
    private final Fleet fleet;
    private final Logins logins;
    private final Events events;
    private final Clock clock;

    Ranges(RangeRows rows, Fleet fleet, Logins logins, Events events, Clock clock) {
        this.rows = rows;
        this.fleet = fleet;
        this.logins = logins;
        this.events = events;
        this.clock = clock;
    }

    /**
     * A range.
     *
     * @param within prefixes and stretches that are searched
     * @param except ones that are left alone
     * @param site where an accepted device stands, unless something else is said; may be empty
     * @param login what opens an accepted device; may be empty
     * @param snmpLogin asks by SNMP; empty asks for the SSH greeting only
     * @param perSecond how many addresses are touched a second, at most
     */
    record RangeView(
            String name,
            List<String> within,
            List<String> except,
            String site,
            String login,
            String snmpLogin,
            int sshPort,
            int snmpPort,
            int perSecond,
            int addresses,
            @Nullable Instant searchedAt) {
        AddressSpace space() {
            return AddressSpace.parse(within, except);
        }
    }

    /** What a person says of a range; what is left out keeps its usual value. */
    record RangeToSet(
            List<String> within,
            @Nullable List<String> except,
            @Nullable String site,
            @Nullable String login,
            @Nullable String snmpLogin,
            @Nullable Integer sshPort,
            @Nullable Integer snmpPort,
            @Nullable Integer perSecond) {}

    @Transactional
    RangeView set(String name, RangeToSet said, String who) {
        RangeRow row = rows.findById(name).orElseGet(RangeRow::new);
        fill(row, name, said);
        check(row);
        row.changedAt = clock.instant();
        row.changedBy = who;
        rows.save(row);
        RangeView view = view(row);
        tellSet(name, who, view, row);
        return view;
    }

    private void tellSet(String name, String who, RangeView view, RangeRow row) {
        events.append(
                Optional.empty(),
                name,
                "fleet",
                who,
                String.format(
                        Locale.ROOT,
                        "The range %s is set: %s, %,d addresses, at most %s a second.",
                        name,
                        String.join(", ", view.within()),
                        view.addresses(),
                        row.perSecond));
    }

    private static void fill(RangeRow row, String name, RangeToSet said) {
        row.name = name;
        row.within = String.join("\n", said.within());
        row.exceptFor = String.join("\n", Optional.ofNullable(said.except()).orElse(List.of()));
        row.site = text(said.site());
        row.login = text(said.login());
        row.snmpLogin = text(said.snmpLogin());
        row.sshPort = Optional.ofNullable(said.sshPort()).orElse(22);
        row.snmpPort = Optional.ofNullable(said.snmpPort()).orElse(161);
        row.perSecond = Optional.ofNullable(said.perSecond()).orElse(20);
    }

    private static String text(@Nullable String given) {
        return given == null ? "" : given;
    }

    private void check(RangeRow row) {
        List<String> wrong = new ArrayList<>();
        if (!row.name.matches("[a-z0-9][a-z0-9.-]*")) {
            wrong.add(
                    "Expected a name of small letters, digits, dots and dashes, saw \"%s\"."
                            .formatted(row.name));
        }
        try {
            AddressSpace.parse(lines(row.within), lines(row.exceptFor));
        } catch (IllegalArgumentException refused) {
            wrong.add(String.valueOf(refused.getMessage()));
        }
        if (row.perSecond < 1 || row.perSecond > MOST_PER_SECOND) {
            wrong.add(
                    "Expected from 1 to %s addresses a second, saw %s."
                            .formatted(MOST_PER_SECOND, row.perSecond));
        }
        List.of(row.sshPort, row.snmpPort).stream()
                .filter(port -> port < 1 || port > 65_535)
                .forEach(
                        port ->
                                wrong.add(
                                        "Expected a port from 1 to 65535, saw %s."
                                                .formatted(port)));
        if (!row.site.isEmpty() && !fleet.hasSite(row.site)) {
            wrong.add(
                    "There is no site \"%s\"; import an inventory that has it first."
                            .formatted(row.site));
        }
        if (!row.snmpLogin.isEmpty()) {
            logins.snmp(row.snmpLogin);
        }
        if (!wrong.isEmpty()) {
            throw Refusal.unusable(
                    "The range %s was not set: %s."
                            .formatted(
                                    row.name,
                                    wrong.size() == 1
                                            ? "one thing is wrong"
                                            : wrong.size() + " things are wrong"),
                    wrong);
        }
    }

    static List<String> lines(String text) {
        return text.lines().toList();
    }

    private static RangeView view(RangeRow row) {
        List<String> within = lines(row.within);
        List<String> except = lines(row.exceptFor);
        return new RangeView(
                row.name,
                within,
                except,
                row.site,
                row.login,
                row.snmpLogin,
                row.sshPort,
                row.snmpPort,
                row.perSecond,
                AddressSpace.parse(within, except).addresses().size(),
                row.searchedAt);
    }

    @Transactional(readOnly = true)
    List<RangeView> all() {
        return rows.findAllByOrderByName().stream().map(Ranges::view).toList();
    }

    @Transactional(readOnly = true)
    RangeView require(String name) {
        return rows.findById(name)
                .map(Ranges::view)
                .orElseThrow(() -> Refusal.notFound("range", name));
    }

    @Transactional
    void searched(String name, boolean cancelled, int answered) {
        rows.findById(name).ifPresent(row -> row.searchedAt = clock.instant());
        events.append(
                Optional.empty(),
                name,
                "fleet",
                Events.SERVICE,
                "The search in %s %s: %s answered."
                        .formatted(
                                name,
                                cancelled ? "was cancelled, what it found is kept" : "is through",
                                answered));
    }

    /** The range is gone; what was found in it stays. */
    @Transactional
    void forget(String name, String who) {
        require(name);
        rows.deleteById(name);
        events.append(
                Optional.empty(), name, "fleet", who, "The range %s is forgotten.".formatted(name));
    }
}
