package calmstep.practice;

import calmstep.core.text.Complaints;
import calmstep.core.text.Section;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Reads a practice fleet file (format 1, {@code docs/formats.md}): the images that exist, and the
 * machines.
 */
final class PracticeFleetText {
    /** What the file says. */
    record Description(
            int pace,
            int sshPort,
            int consolePort,
            int httpsPort,
            SnmpPort.Access snmp,
            List<PublishedFile> images,
            List<MachineDescription> machines,
            List<Acquaintance> acquaintances) {}

    /**
     * @param archive name of the zip file that the image is published in; empty for one that is
     *     published as it is
     */
    record PublishedFile(PracticeImage image, String archive) {}

    private static final SnmpPort.Access NO_SNMP = new SnmpPort.Access(2061, "", "", "", "");

    private PracticeFleetText() {}

    static Description read(String file, String text) {
        Complaints complaints = new Complaints();
        Section top = Section.ofText("practice-fleet", file, text, complaints);
        if (top.number("practice-fleet", 0) != 1) {
            top.complain(
                    "practice-fleet",
                    "Expected \"practice-fleet: 1\", the format that this version reads.");
        }
        Description description = describe(top);
        top.close();
        complaints.throwIfAny();
        return description;
    }

    private static Description describe(Section top) {
        Description description =
                new Description(
                        (int) top.number("pace", 60),
                        (int) top.number("ssh-port", 2022),
                        (int) top.number("console-port", 2023),
                        (int) top.number("https-port", 2443),
                        top.section("snmp").map(PracticeFleetText::access).orElse(NO_SNMP),
                        top.sections("images").stream().map(PracticeFleetText::image).toList(),
                        top.sections("machines").stream().map(PracticeFleetText::machine).toList(),
                        top.sections("acquaintances").stream()
                                .map(PracticeFleetText::acquaintance)
                                .toList());
        return description;
    }

    private static SnmpPort.Access access(Section section) {
        try (section) {
            return new SnmpPort.Access(
                    (int) section.number("port", 2061),
                    section.text("community"),
                    section.text("user"),
                    section.text("password"),
                    section.text("privacy-password"));
        }
    }

    private static Acquaintance acquaintance(Section section) {
        try (section) {
            return new Acquaintance(
                    section.text("address"),
                    section.text("greeting", ""),
                    section.text("snmp", "none"),
                    new SnmpPort.Shown(
                            section.text("description", ""),
                            section.text("object", "0.0"),
                            section.text("name", ""),
                            section.text("model", ""),
                            section.text("revision", ""),
                            section.text("serial", ""),
                            section.text("release", "")));
        }
    }

    private static PublishedFile image(Section section) {
        try (section) {
            return new PublishedFile(
                    new PracticeImage(
                            section.text("file"),
                            section.text("family"),
                            section.text("component", "system"),
                            section.text("version"),
                            section.texts("revisions"),
                            section.text("takes-settings-from", "0"),
                            (int) section.number("size-bytes", 1_000_000),
                            section.text("variant", ""),
                            rules(section)),
                    section.text("archive", ""));
        }
    }

    private static PracticeImage.Rules rules(Section section) {
        return new PracticeImage.Rules(
                section.text("needs-loader", ""),
                section.text("beside-from", ""),
                pairs(section, "needs-boards"),
                section.texts("drops"),
                section.flag("wipes", false),
                section.text("rewrites", ""),
                section.text("holds-board-firmware", ""));
    }

    private static MachineDescription machine(Section section) {
        try (section) {
            Map<String, Long> others = new LinkedHashMap<>();
            section.section("other-files")
                    .ifPresent(s -> s.keys().forEach(name -> others.put(name, s.number(name, 0))));
            Set<Fault> faults = EnumSet.noneOf(Fault.class);
            section.texts("faults").forEach(fault -> faults.add(Fault.parse(fault)));
            return new MachineDescription(
                    section.text("name"),
                    section.text("family"),
                    section.text("address"),
                    section.text("model"),
                    section.text("revision"),
                    section.text("serial"),
                    section.text("user"),
                    section.text("password"),
                    section.number("flash-bytes", 64_000_000),
                    new ArrayList<>(section.texts("files")),
                    others,
                    section.text("running"),
                    section.text("fallback", ""),
                    section.duration("starts-in", Duration.ofMinutes(4)),
                    section.number("copies-at-bytes-per-second", 1_000_000),
                    section.text("settings"),
                    section.texts("unsaved"),
                    pairs(section, "links"),
                    pairs(section, "neighbours"),
                    faults,
                    section.text("snmp", "none"),
                    Map.of(),
                    pairs(section, "partners"),
                    members(section),
                    outfit(section));
        }
    }

    private static MachineDescription.Members members(Section section) {
        return new MachineDescription.Members(
                section.texts("members"),
                section.text("loader", ""),
                section.duration("settles-in", Duration.ofSeconds(60)));
    }

    private static MachineDescription.Outfit outfit(Section section) {
        return new MachineDescription.Outfit(
                section.text("variant", ""),
                section.text("brand", ""),
                pairs(section, "licences"),
                section.sections("attached").stream().map(PracticeFleetText::attached).toList(),
                section.text("fed-by", ""),
                section.texts("plugged-in"),
                section.text("board-firmware", ""));
    }

    private static Attached attached(Section section) {
        try (section) {
            return new Attached(
                    section.text("name"),
                    section.text("kind", ""),
                    section.text("model"),
                    section.text("serial"),
                    section.text("runs"),
                    section.duration("starts-in", Duration.ofMinutes(3)),
                    section.duration("fetches-in", Duration.ofMinutes(9)));
        }
    }

    private static Map<String, String> pairs(Section section, String key) {
        Map<String, String> pairs = new LinkedHashMap<>();
        section.section(key)
                .ifPresent(s -> s.keys().forEach(name -> pairs.put(name, s.text(name))));
        return pairs;
    }
}
