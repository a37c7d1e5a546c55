package calmstep.core.plan;

import static calmstep.core.known.Known.known;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.step.UnitPlan;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * What differs between two drafts of the same devices: an older one and one worked out from what is
 * known now, or two plans side by side.
 */
public final class DraftChanges {
    /** Grows old by itself; a plan is not another one because an hour has passed. */
    private static final String BY_TIME_ALONE = "/read-long-ago";

    private DraftChanges() {}

    /** As sentences, devices by name and then findings; empty when both come to the same. */
    public static List<String> between(Draft before, Draft after) {
        List<String> changes = new ArrayList<>();
        Map<String, UnitPlan> was = byDevice(before);
        Map<String, UnitPlan> is = byDevice(after);
        Set<String> devices = new TreeSet<>(was.keySet());
        devices.addAll(is.keySet());
        for (String device : devices) {
            compareDevice(is, device, changes, was);
        }
        configurations(changes, was, is);
        findings(changes, before, after);
        return changes;
    }

    private static void compareDevice(
            Map<String, UnitPlan> is,
            String device,
            List<String> changes,
            Map<String, UnitPlan> was) {
        if (!is.containsKey(device)) {
            changes.add(
                    "%s has nothing to do any more; it was to go %s"
                            .formatted(device, way(known(was, device))));
        } else if (!was.containsKey(device)) {
            changes.add("%s has something to do now: %s".formatted(device, way(is.get(device))));
        } else {
            differs(changes, was.get(device), is.get(device));
        }
    }

    private static Map<String, UnitPlan> byDevice(Draft draft) {
        return draft.units().stream()
                .collect(
                        Collectors.toMap(
                                UnitPlan::device, Function.identity(), (a, _) -> a, TreeMap::new));
    }

    private static String way(UnitPlan unit) {
        return unit.from()
                + " > "
                + unit.hops().stream().map(h -> h.hop().to()).collect(Collectors.joining(" > "));
    }

    private static String images(UnitPlan unit) {
        return unit.hops().stream()
                .flatMap(h -> h.hop().images().stream())
                .map(FirmwareImage::fileName)
                .collect(Collectors.joining(", "));
    }

    private static void differs(List<String> changes, UnitPlan was, UnitPlan is) {
        if (!was.serial().equals(is.serial())) {
            changes.add(
                    "%s is another box now: serial %s, was %s"
                            .formatted(is.device(), is.serial(), was.serial()));
        }
        if (!way(was).equals(way(is))) {
            changes.add("%s goes %s now, was to go %s".formatted(is.device(), way(is), way(was)));
        } else if (!images(was).equals(images(is))) {
            changes.add(
                    "%s takes %s now, was to take %s"
                            .formatted(is.device(), images(is), images(was)));
        }
    }

    /** One that was never read when the plan was worked out has no configuration to differ from. */
    private static void configurations(
            List<String> changes, Map<String, UnitPlan> was, Map<String, UnitPlan> is) {
        List<String> others =
                was.values().stream()
                        .filter(unit -> unit.readAt().isPresent() && is.containsKey(unit.device()))
                        .filter(
                                unit ->
                                        !unit.configurationSha256()
                                                .equals(
                                                        known(is, unit.device())
                                                                .configurationSha256()))
                        .map(UnitPlan::device)
                        .toList();
        if (others.size() == 1) {
            changes.add("the configuration of %s is another one now".formatted(others.getFirst()));
        } else if (!others.isEmpty()) {
            changes.add(
                    "the configurations of %s are other ones now"
                            .formatted(String.join(", ", others)));
        }
    }

    private static void findings(List<String> changes, Draft before, Draft after) {
        Set<String> known = keys(before);
        Set<String> now = keys(after);
        eachOnce(after, key -> now.contains(key) && !known.contains(key))
                .forEach(
                        like ->
                                changes.add(
                                        "new %s: %s"
                                                .formatted(
                                                        like.getFirst().severity(), words(like))));
        eachOnce(before, key -> known.contains(key) && !now.contains(key))
                .forEach(like -> changes.add("no longer so: %s".formatted(words(like))));
    }

    /** Findings of one kind stand together: a cause is told once, however many devices it has. */
    private static List<List<Finding>> eachOnce(Draft draft, Predicate<String> differs) {
        Map<String, List<Finding>> byKind = new LinkedHashMap<>();
        draft.findings().stream()
                .filter(finding -> differs.test(finding.key()))
                .forEach(
                        finding ->
                                byKind.computeIfAbsent(finding.kind(), _ -> new ArrayList<>())
                                        .add(finding));
        return List.copyOf(byKind.values());
    }

    private static String words(List<Finding> like) {
        return like.size() == 1
                ? like.getFirst().fact()
                : "%s (and the same of %s)"
                        .formatted(
                                like.getFirst().fact(),
                                like.stream()
                                        .skip(1)
                                        .map(Finding::device)
                                        .collect(Collectors.joining(", ")));
    }

    private static Set<String> keys(Draft draft) {
        return draft.findings().stream()
                .filter(f -> !f.isOfNights())
                .map(Finding::key)
                .filter(key -> !key.endsWith(BY_TIME_ALONE))
                .collect(Collectors.toCollection(LinkedHashSet::new));
    }
}
