package calmstep.core.fleet;

import calmstep.core.catalogue.Hardware;
import calmstep.core.text.Complaints;
import calmstep.core.text.Nearest;
import calmstep.core.text.RejectedText;
import calmstep.core.text.Section;
import calmstep.core.version.VersionScheme;
import java.net.Inet6Address;
import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.snakeyaml.engine.v2.api.Dump;
import org.snakeyaml.engine.v2.api.DumpSettings;
import org.snakeyaml.engine.v2.common.FlowStyle;

/**
 * Reads and writes an inventory file (format 1, {@code docs/formats.md}). All or nothing: one
 * complaint refuses the whole file.
 */
public final class InventoryText {
    private static final Pattern ADDRESS =
            Pattern.compile("(?:\\d{1,3}\\.){3}\\d{1,3}|[0-9a-fA-F:]*:[0-9a-fA-F:]+");
    static final int USUAL_PORT = 22;
    private static final Pattern MEDIUM = Pattern.compile("[\\w.:/-]+");
    private static final Pattern MAIL = Pattern.compile("[^\\s@,;<>]+@[^\\s@,;<>]+");
    private static final int LONGEST_HOST = 253;
    private static final Pattern HOST =
            Pattern.compile(
                    "([a-zA-Z0-9]([a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?\\.)*"
                        + "(?=[a-zA-Z0-9-]*[a-zA-Z])[a-zA-Z0-9]([a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?");
    private static final Pattern NAME = Pattern.compile("[a-z0-9][a-z0-9.-]*");

    private final Complaints complaints = new Complaints();
    private final Map<String, ? extends Map<String, VersionScheme>> families;
    private final Section top;
    private final Map<String, Site> sites = new LinkedHashMap<>();
    private final Map<String, String> nameByAddress = new HashMap<>();
    private final List<Device> devices = new ArrayList<>();
    private final Set<String> names = new HashSet<>();

    /** How an inventory is written. JSON is read as YAML, of which it is a part. */
    public enum Format {
        YAML,
        CSV;

        /** By the file's name: what does not end with {@code .csv} is YAML. */
        public static Format of(String file) {
            return file.toLowerCase(Locale.ROOT).endsWith(".csv") ? CSV : YAML;
        }
    }

    private InventoryText(
            String file,
            String text,
            Format format,
            Map<String, ? extends Map<String, VersionScheme>> families,
            Inventory known) {
        this.families = families;
        top =
                switch (format) {
                    case YAML -> Section.ofText("inventory", file, text, complaints);
                    case CSV -> InventoryCsv.read(file, text, complaints, known);
                };
    }

    public static String write(Inventory inventory, Format format) {
        return switch (format) {
            case YAML ->
                    new Dump(
                                    DumpSettings.builder()
                                            .setDefaultFlowStyle(FlowStyle.AUTO)
                                            .setWidth(200)
                                            .build())
                            .dumpToString(InventoryTree.of(inventory));
            case CSV -> InventoryCsv.write(inventory);
        };
    }

    /**
     * @param families the families that are known, each with the version schemes of its components;
     *     without any where only its dialect is known
     * @throws RejectedText with everything that is wrong, each at its line and column
     */
    public static Inventory read(
            String file,
            String text,
            Format format,
            Map<String, ? extends Map<String, VersionScheme>> families) {
        return read(file, text, format, families, new Inventory(List.of(), List.of()));
    }

    /**
     * The same for a fleet that is there already.
     *
     * @param known of a device that it has, a table leaves alone whatever it has no column for
     */
    public static Inventory read(
            String file,
            String text,
            Format format,
            Map<String, ? extends Map<String, VersionScheme>> families,
            Inventory known) {
        return new InventoryText(file, text, format, families, known).read();
    }

    private Inventory read() {
        if (top.number("inventory", 0) != 1) {
            top.complain(
                    "inventory", "Expected \"inventory: 1\", the format that this version reads.");
        }
        top.sections("sites").forEach(this::readSite);
        top.sections("devices").forEach(this::readDevice);
        top.close();
        complaints.throwIfAny();
        return new Inventory(List.copyOf(sites.values()), devices);
    }

    private void readSite(Section section) {
        try (section) {
            String name = nameOf(section);
            ZoneId zone = section.require("zone", InventoryText::zoneOf).orElse(ZoneId.of("UTC"));
            if (sites.put(
                            name,
                            new Site(name, section.text("title", name), zone, contactsOf(section)))
                    != null) {
                section.complain("name", "The site %s is given twice; keep one.".formatted(name));
            }
        }
    }

    private static List<String> contactsOf(Section section) {
        List<String> contacts = section.texts("contacts");
        contacts.stream()
                .filter(contact -> !MAIL.matcher(contact).matches())
                .forEach(
                        contact ->
                                section.complain(
                                        "contacts",
                                        "Expected a mail address such as quay@northmere.example, saw \"%s\"."
                                                .formatted(contact)));
        return contacts;
    }

    private static ZoneId zoneOf(String text) {
        try {
            return ZoneId.of(text);
        } catch (DateTimeException unknown) {
            throw new IllegalArgumentException(
                    "Expected a time zone such as Europe/Lisbon, saw \"%s\".".formatted(text),
                    unknown);
        }
    }

    private static String nameOf(Section section) {
        return section.require(
                        "name",
                        text -> {
                            if (!NAME.matcher(text).matches()) {
                                throw new IllegalArgumentException(
                                        "Expected a name of small letters, digits, dots and dashes, saw \"%s\"."
                                                .formatted(text));
                            }
                            return text;
                        })
                .orElse("");
    }

    private void readDevice(Section section) {
        try (section) {
            String name = nameOf(section);
            if (!names.add(name)) {
                section.complain("name", "The device %s is given twice; keep one.".formatted(name));
            }
            Hardware hardware =
                    new Hardware(
                            section.text("model", ""),
                            section.text("revision", ""),
                            section.text("region", ""),
                            section.text("brand", ""),
                            Set.copyOf(section.texts("features")));
            String family = familyOf(section);
            devices.add(
                    new Device(
                            name,
                            family,
                            hardware,
                            section.text("serial", ""),
                            siteOf(section),
                            section.text("role", ""),
                            Set.copyOf(section.texts("tags")),
                            addressOf(section, name),
                            portOf(section, "port", USUAL_PORT),
                            portOf(section, "console-port", 0),
                            loginsOf(section),
                            section.flag("entitled", true),
                            runsOf(section, family),
                            partsOf(section, family),
                            section.text("serves", ""),
                            wiringOf(section, name),
                            wayOf(section)));
        }
    }

    private String familyOf(Section section) {
        String family = section.text("family");
        if (!family.isEmpty() && !families.containsKey(family)) {
            section.complain(
                    "family",
                    "The family \"%s\" is not known; %s Import its catalogue or its dialect first if it is new."
                            .formatted(family, Nearest.hint(family, families.keySet())));
        }
        return family;
    }

    private String siteOf(Section section) {
        String site = section.text("site");
        if (!site.isEmpty() && !sites.containsKey(site)) {
            section.complain(
                    "site",
                    "The site \"%s\" is not under \"sites\"; %s"
                            .formatted(site, Nearest.hint(site, sites.keySet())));
        }
        return site;
    }

    private String addressOf(Section section, String name) {
        Optional<String> address = section.require("address", text -> mustBeAnAddress(text));
        address.map(a -> nameByAddress.putIfAbsent(a, name))
                .ifPresent(
                        other ->
                                section.complain(
                                        "address",
                                        "The address %s belongs to %s already; two devices cannot share one."
                                                .formatted(address.get(), other)));
        return address.orElse("");
    }

    private static boolean isAddress(String text) {
        return isHostName(text)
                || (ADDRESS.matcher(text).matches()
                        && (text.contains(":") ? isIpv6(text) : isIpv4(text)));
    }

    /** RFC 1123; the last label has a letter, so that no wrong address passes for a name. */
    private static boolean isHostName(String text) {
        return text.length() <= LONGEST_HOST && HOST.matcher(text).matches();
    }

    /** Whether a device may be called so. */
    public static boolean isName(String text) {
        return NAME.matcher(text).matches();
    }

    private static boolean isIpv4(String text) {
        return Arrays.stream(text.split("\\.")).allMatch(number -> Integer.parseInt(number) < 256);
    }

    private static boolean isIpv6(String text) {
        try {
            return Inet6Address.ofLiteral(text) != null;
        } catch (IllegalArgumentException none) {
            return false;
        }
    }

    private static String mustBeAnAddress(String text) {
        if (!isAddress(text)) {
            throw new IllegalArgumentException(
                    "Expected an address such as 192.0.2.17 or a host name, saw \"%s\"."
                            .formatted(text));
        }
        return text;
    }

    private static List<String> loginsOf(Section section) {
        List<String> logins = section.texts("login");
        if (logins.isEmpty()) {
            section.text("login");
        } else if (Set.copyOf(logins).size() < logins.size()) {
            section.complain("login", "A login is named twice; keep one.");
        }
        return logins;
    }

    private static int portOf(Section section, String key, int otherwise) {
        long port = section.number(key, otherwise);
        if (port < 0 || port > 65535) {
            section.complain(key, "Expected a port from 1 to 65535, saw %s.".formatted(port));
            return otherwise;
        }
        return (int) port;
    }

    private static Way wayOf(Section section) {
        List<Way.Stop> via = viaOf(section);
        Optional<Way.Stop> console = section.find("console", Way.Stop::parse);
        if (console.isPresent() && section.number("console-port", 0) != 0) {
            section.complain(
                    "console",
                    "A console line is at a port of the device's own or at a console server; leave"
                            + " one of \"console\" and \"console-port\" out.");
        }
        return new Way(
                via,
                console,
                Set.copyOf(section.texts("old-algorithms")),
                section.find("medium", InventoryText::mediumOf));
    }

    private static List<Way.Stop> viaOf(Section section) {
        List<Way.Stop> via = new ArrayList<>();
        for (String stop : section.texts("via")) {
            try {
                via.add(Way.Stop.parse(stop));
            } catch (IllegalArgumentException wrong) {
                section.complain("via", String.valueOf(wrong.getMessage()));
            }
        }
        return via;
    }

    /** It becomes a part of a command. */
    private static String mediumOf(String text) {
        if (!MEDIUM.matcher(text).matches()) {
            throw new IllegalArgumentException(
                    "Expected what the device calls its medium, letters, digits and . _ : / -, saw \"%s\"."
                            .formatted(text));
        }
        return text;
    }

    private static Device.Wiring wiringOf(Section section, String name) {
        List<String> links = section.texts("links");
        if (links.contains(name)) {
            section.complain(
                    "links",
                    "%s cannot be joined with itself; name the device at the other end."
                            .formatted(name));
        }
        Optional<String> base = section.findText("fed-by");
        mustNotFeedItself(base, name, section);
        return new Device.Wiring(
                Set.copyOf(links),
                section.flag("root", false),
                Set.copyOf(section.texts("redundancy")),
                base);
    }

    private static void mustNotFeedItself(Optional<String> base, String name, Section section) {
        if (base.filter(name::equals).isPresent()) {
            section.complain(
                    "fed-by",
                    "%s cannot be fed by itself; name the base that sends it its files."
                            .formatted(name));
        }
    }

    private List<Part> partsOf(Section section, String family) {
        return section.sections("parts").stream()
                .map(
                        part -> {
                            try (part) {
                                return new Part(
                                        part.text("name"),
                                        part.require("kind", Part.Kind::parse)
                                                .orElse(Part.Kind.MEMBER),
                                        part.text("model", ""),
                                        part.text("serial", ""),
                                        runsOf(part, family),
                                        partsOf(part, family));
                            }
                        })
                .toList();
    }

    private Map<String, String> runsOf(Section section, String family) {
        Map<String, String> runs = new HashMap<>();
        Map<String, VersionScheme> schemes =
                families.containsKey(family) ? families.get(family) : Map.of();
        section.section("runs")
                .ifPresent(
                        given ->
                                given.keys()
                                        .forEach(
                                                component -> {
                                                    if (!schemes.isEmpty()
                                                            && !schemes.containsKey(component)) {
                                                        given.complain(
                                                                component,
                                                                "The catalogue of %s describes no component \"%s\"; %s"
                                                                        .formatted(
                                                                                family,
                                                                                component,
                                                                                Nearest.hint(
                                                                                        component,
                                                                                        schemes
                                                                                                .keySet())));
                                                    }
                                                    given.find(
                                                                    component,
                                                                    schemes.getOrDefault(
                                                                                    component,
                                                                                    VersionScheme
                                                                                            .ANY)
                                                                            ::parse)
                                                            .ifPresent(
                                                                    version ->
                                                                            runs.put(
                                                                                    component,
                                                                                    version
                                                                                            .text()));
                                                }));
        return runs;
    }
}
