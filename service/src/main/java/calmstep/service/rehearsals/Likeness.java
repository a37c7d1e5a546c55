package calmstep.service.rehearsals;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Dependents;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Grouping;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.forecast.Times;
import calmstep.core.path.Hop;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import calmstep.practice.MachineDescription;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What a reading says of a device, in the words that describe its stand-in. */
final class Likeness {
    static final String BOARD = "board";

    /** What stand-ins call the parts of an image in two halves, in the order of a choice. */
    private static final List<String> PARTS = List.of("upper", "lower");

    /** What a board or an access point takes to start, where no catalogue says it. */
    private static final Duration USUALLY = Duration.ofMinutes(3);

    private Likeness() {}

    static Map<String, Duration> startTimes(
            UnitPlan unit, Device device, Reading reading, Times times) {
        Map<String, Duration> startsWith =
                unit.hops().stream()
                        .map(UnitPlan.HopPlan::hop)
                        .collect(
                                Collectors.toMap(
                                        Likeness::chosen,
                                        hop -> normally(device.family(), reading, hop, unit, times),
                                        (one, _) -> one));
        return startsWith;
    }

    /** Its licences, its boards and its dependents, as they were read. */
    static MachineDescription.Outfit outfit(
            Reading reading, UnitPlan unit, Optional<Catalogue> catalogue) {
        MachineDescription.Outfit outfit =
                new MachineDescription.Outfit(
                        "",
                        reading.identity().brand(),
                        facts(reading, "licence"),
                        List.of(),
                        unit.supply().fedBy().orElse(""),
                        List.of(),
                        reading.components().getOrDefault(BOARD, ""));
        Optional<Dependents> how = catalogue.flatMap(Catalogue::dependents);
        for (Reading.PartShown shown : reading.parts()) {
            Part part = shown.part();
            if (part.kind() == Part.Kind.DEPENDENT) {
                outfit =
                        outfit.with(
                                part.name(),
                                "",
                                part.model(),
                                part.serial(),
                                shown.runs(Catalogue.SYSTEM),
                                how.map(Dependents::restart).orElse(USUALLY),
                                how.flatMap(Dependents::preLoad)
                                        .or(() -> how.map(Dependents::fetch))
                                        .orElse(USUALLY));
            } else if (part.kind() == Part.Kind.LINE_BOARD) {
                for (Map.Entry<String, String> runs : part.runs().entrySet()) {
                    Duration dark =
                            unit.hops().stream()
                                    .map(UnitPlan.HopPlan::hop)
                                    .filter(hop -> hop.component().equals(runs.getKey()))
                                    .map(Hop::dark)
                                    .findFirst()
                                    .orElse(USUALLY);
                    outfit =
                            outfit.with(
                                    part.name(),
                                    runs.getKey(),
                                    part.model(),
                                    part.serial(),
                                    runs.getValue(),
                                    dark,
                                    USUALLY);
                }
            }
        }
        return outfit;
    }

    static MachineDescription.Members members(Reading reading, Optional<Catalogue> catalogue) {
        Duration settles =
                catalogue.flatMap(Catalogue::grouping).map(Grouping::settle).orElse(Duration.ZERO);
        List<String> serials =
                reading.members().stream().map(member -> member.part().serial()).toList();
        return new MachineDescription.Members(
                serials, reading.components().getOrDefault("loader", ""), settles);
    }

    static Duration normally(String family, Reading reading, Hop hop, UnitPlan unit, Times times) {
        return Duration.ofSeconds(
                Math.round(
                        times.of(
                                        family,
                                        reading.identity().model(),
                                        hop,
                                        StepName.COME_BACK,
                                        hop.dark(),
                                        unit.bytesPerSecond())
                                .medianSeconds()));
    }

    static String partByPlace(Reading reading, String file) {
        return Stream.of(reading.boot().running(), reading.boot().next(), reading.boot().fallback())
                .map(Reading.BootChoice::filesOf)
                .filter(files -> files.size() > 1 && files.contains(file))
                .findFirst()
                .map(files -> PARTS.get(Math.min(files.indexOf(file), PARTS.size() - 1)))
                .orElse("");
    }

    /** Its newest backup with secrets masked: on disk a stand-in holds none. */
    static Map<String, String> facts(Reading reading, String kind) {
        return reading.facts().stream()
                .filter(fact -> fact.kind().equals(kind))
                .collect(
                        Collectors.toMap(
                                Reading.Fact::name,
                                Reading.Fact::value,
                                (one, _) -> one,
                                TreeMap::new));
    }

    /** As the device writes its choice of a hop's image. */
    static String chosen(Hop hop) {
        return hop.images().stream()
                .map(FirmwareImage::fileName)
                .collect(Collectors.joining(Reading.BootChoice.PARTS));
    }
}
