package calmstep.core.plan;

import calmstep.core.path.Preference;
import calmstep.core.text.Complaints;
import calmstep.core.text.Nearest;
import calmstep.core.text.RejectedText;
import calmstep.core.text.Section;
import calmstep.core.wave.Wishes;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.snakeyaml.engine.v2.api.Dump;
import org.snakeyaml.engine.v2.api.DumpSettings;
import org.snakeyaml.engine.v2.common.FlowStyle;

/**
 * Reads and writes a plan file (format 1, {@code docs/formats.md}): what was asked for, so that it
 * can be worked out elsewhere, or again.
 */
public final class PlanText {
    private static final String NAME = "[\\p{L}\\p{N}][\\p{L}\\p{N} ._~-]*";

    private PlanText() {}

    /**
     * @param known names of the devices that the plan may speak of
     * @throws RejectedText with everything that is wrong, each at its line and column
     */
    public static PlanOrder read(String file, String text, Set<String> known) {
        Complaints complaints = new Complaints();
        Section top = Section.ofText("plan", file, text, complaints);
        if (top.number("plan", 0) != 1) {
            top.complain("plan", "Expected \"plan: 1\", the format that this version reads.");
        }
        String name = top.require("name", PlanText::nameOf).orElse("");
        Target target = top.require("to", Target::parse).orElse(new Target.Recommended());
        Start begins = top.find("begins", Start::parse).orElse(new Start.NextWindow());
        String where = top.text("where", "");
        List<String> devices = top.texts("devices").stream().distinct().toList();
        if (devices.isEmpty()) {
            top.complain("devices", "Expected the devices that the plan is for.");
        }
        named(top, "devices", devices, known);
        Map<String, LocalDate> nights = new TreeMap<>();
        top.section("nights")
                .ifPresent(
                        section ->
                                section.keys()
                                        .forEach(
                                                unit -> {
                                                    named(section, unit, List.of(unit), known);
                                                    section.require(unit, PlanText::dateOf)
                                                            .ifPresent(
                                                                    night ->
                                                                            nights.put(
                                                                                    unit, night));
                                                }));
        List<String> excluded = top.texts("excluded");
        named(top, "excluded", excluded, known);
        List<String> sites = top.texts("sites-first");
        Wishes.Asks asks = top.find("asks", Wishes.Asks::parse).orElse(Wishes.Asks.EACH);
        Wishes.WhenOdd whenOdd =
                top.find("when-odd", Wishes.WhenOdd::parse).orElse(Wishes.WhenOdd.ASK);
        WayWanted way = wayOf(top);
        top.close();
        complaints.throwIfAny();
        return new PlanOrder(
                name,
                target,
                way,
                begins,
                devices,
                where,
                new Wishes(nights, Set.copyOf(excluded), sites, asks, whenOdd));
    }

    private static WayWanted wayOf(Section top) {
        return new WayWanted(
                top.find("prefer", Preference::parse).orElse(WayWanted.BEST.prefer()),
                top.find("alternative", WayWanted::alternativeOf).orElse(0),
                top.find("roles", WayWanted.Roles::parse).orElse(WayWanted.BEST.roles()));
    }

    private static String nameOf(String text) {
        if (!text.matches(NAME)) {
            throw new IllegalArgumentException(
                    "Expected a name of letters, digits, spaces and dashes, saw \"%s\"."
                            .formatted(text));
        }
        return text;
    }

    private static void named(Section section, String key, List<String> names, Set<String> known) {
        names.stream()
                .filter(name -> !known.contains(name))
                .forEach(
                        name ->
                                section.complain(
                                        key,
                                        "The device \"%s\" is not in the inventory; %s"
                                                .formatted(name, Nearest.hint(name, known))));
    }

    private static LocalDate dateOf(String text) {
        try {
            return LocalDate.parse(text);
        } catch (DateTimeParseException unreadable) {
            throw new IllegalArgumentException(
                    "Expected a date such as 2026-12-03, saw \"%s\".".formatted(text), unreadable);
        }
    }

    public static String write(PlanOrder order) {
        Map<String, Object> tree = new LinkedHashMap<>();
        tree.put("plan", 1);
        tree.put("name", order.name());
        tree.put("to", order.target().words());
        if (order.way().prefer() != WayWanted.BEST.prefer()) {
            tree.put("prefer", order.way().prefer().key());
        }
        if (order.way().alternative() != 0) {
            tree.put("alternative", order.way().alternative());
        }
        if (order.way().roles() != WayWanted.BEST.roles()) {
            tree.put("roles", order.way().roles().toString());
        }
        tree.put("begins", order.begins().words());
        if (!order.where().isEmpty()) {
            tree.put("where", order.where());
        }
        tree.put("devices", order.devices());
        putWishes(order, tree);
        return new Dump(DumpSettings.builder().setDefaultFlowStyle(FlowStyle.BLOCK).build())
                .dumpToString(tree);
    }

    private static void putWishes(PlanOrder order, Map<String, Object> tree) {
        Wishes wishes = order.wishes();
        if (!wishes.nights().isEmpty()) {
            Map<String, String> nights = new TreeMap<>();
            wishes.nights().forEach((unit, night) -> nights.put(unit, night.toString()));
            tree.put("nights", nights);
        }
        if (!wishes.excluded().isEmpty()) {
            tree.put("excluded", List.copyOf(wishes.excluded()));
        }
        if (!wishes.siteOrder().isEmpty()) {
            tree.put("sites-first", wishes.siteOrder());
        }
        putManners(wishes, tree);
    }

    private static void putManners(Wishes wishes, Map<String, Object> tree) {
        if (wishes.asks() != Wishes.Asks.EACH) {
            tree.put("asks", wishes.asks().toString());
        }
        if (wishes.whenOdd() != Wishes.WhenOdd.ASK) {
            tree.put("when-odd", wishes.whenOdd().toString());
        }
    }
}
