package calmstep.core.compare;

import calmstep.core.compare.Change.Weight;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;

/**
 * What changed on a device from one reading to the next: releases and facts, and besides who it
 * says it is, its boot choice, its files, its configuration.
 */
public record ReadingChanges(Instant since, Instant at, List<Change> changes) {
    public ReadingChanges {
        changes = List.copyOf(changes);
    }

    /**
     * @param newestFirst readings of one device
     * @return for each reading but the oldest what changed since the one before, newest first;
     *     readings without any change are left out
     */
    public static List<ReadingChanges> of(List<Reading> newestFirst) {
        List<ReadingChanges> all = new ArrayList<>();
        for (int i = 0; i + 1 < newestFirst.size(); i++) {
            Reading after = newestFirst.get(i);
            Reading before = newestFirst.get(i + 1);
            List<Change> changes =
                    Stream.concat(
                                    besides(before, after).stream(),
                                    ReadingComparison.of(before, after).stream())
                            .toList();
            if (!changes.isEmpty()) {
                all.add(new ReadingChanges(before.takenAt(), after.takenAt(), changes));
            }
        }
        return all;
    }

    private static List<Change> besides(Reading before, Reading after) {
        Map<String, String> was = told(before);
        Map<String, String> is = told(after);
        List<Change> changes = new ArrayList<>();
        TreeSet<String> names = new TreeSet<>(was.keySet());
        names.addAll(is.keySet());
        for (String name : names) {
            String then = was.getOrDefault(name, "");
            String now = is.getOrDefault(name, "");
            if (!then.equals(now)) {
                tellChange(name, changes, then, now);
            }
        }
        return changes;
    }

    private static void tellChange(String name, List<Change> changes, String then, String now) {
        int cut = name.indexOf('/');
        changes.add(
                new Change(
                        name.substring(0, cut),
                        name.substring(cut + 1),
                        then,
                        now,
                        name.startsWith("identity/") ? Weight.CAUTION : Weight.FINE));
    }

    private static Map<String, String> told(Reading reading) {
        Map<String, String> told = new TreeMap<>();
        tellIdentityAndImages(told, reading);
        told.put("start/last", reading.bootMark());
        told.put("configuration/running", reading.unsavedChanges() ? "not saved" : "saved");
        told.put(
                "configuration/SHA-256",
                reading.configurationSha256()
                        .substring(0, Math.min(12, reading.configurationSha256().length())));
        for (Volume volume : reading.volumes()) {
            for (StoredFile file : volume.files()) {
                told.put(
                        "file/" + file.name(),
                        String.format(Locale.ROOT, "%,d bytes", file.sizeBytes()));
            }
        }
        told.values().removeIf(String::isEmpty);
        return told;
    }

    private static void tellIdentityAndImages(Map<String, String> told, Reading reading) {
        told.put("identity/name", reading.identity().hostName());
        told.put("identity/model", reading.identity().model());
        told.put("identity/revision", reading.identity().revision());
        told.put("identity/serial", reading.identity().serial());
        told.put("image/running", reading.boot().running());
        told.put("image/next", reading.boot().next());
        told.put("image/fallback", reading.boot().fallback());
        told.put("boot choice/of the next start", reading.boot().saved() ? "saved" : "not saved");
    }
}
