package calmstep.dialect;

import calmstep.core.fleet.Part;
import calmstep.core.text.Complaints;
import calmstep.core.text.RejectedText;
import calmstep.core.text.Section;
import calmstep.dialect.Dialect.ActCommand;
import calmstep.dialect.Dialect.Answer;
import calmstep.dialect.Dialect.Carrier;
import calmstep.dialect.Dialect.ConfigurationCommand;
import calmstep.dialect.Dialect.Entry;
import calmstep.dialect.Dialect.ErrorLine;
import calmstep.dialect.Dialect.Find;
import calmstep.dialect.Dialect.Pager;
import calmstep.dialect.Dialect.ReadCommand;
import calmstep.dialect.Dialect.SignIn;
import calmstep.dialect.Dialect.What;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Reads a dialect file (format 1, {@code docs/formats.md}) and checks it as a whole. */
public final class DialectText {
    /** The acts that a session needs; a dialect that lacks one is refused. */
    static final List<String> ACTS =
            List.of("save", "fetch", "reach", "digest", "delete", "choose", "restart");

    /** The acts of a base that sends files on to others, and of those that are sent them. */
    static final List<String> FEEDING =
            List.of("channel", "send-to-all", "send-missing", "missing");

    /** The acts by which traffic is told to go another way, and back: all of them, or none. */
    static final List<String> DRAINING = List.of("drain", "drained", "undrain", "undrained");

    /** The acts that only some families have. */
    private static final List<String> FURTHER_ACTS =
            Stream.of(
                            List.of(
                                    "restart-member",
                                    "hand-over",
                                    "pre-load",
                                    "pre-loaded",
                                    "put-back",
                                    "fetching",
                                    "take-from",
                                    LoaderAtConsole.LOAD,
                                    LoaderAtConsole.START),
                            FEEDING,
                            DRAINING)
                    .flatMap(List::stream)
                    .toList();

    /** What a part's release is called where the key "component" says of what. */
    static final String RUNS = "runs";

    private static final List<What> NEEDED =
            List.of(
                    What.SERIAL,
                    What.BOOT_MARK,
                    What.RELEASE,
                    What.RUNNING,
                    What.NEXT,
                    What.SAVED,
                    What.UNSAVED,
                    What.VOLUME,
                    What.FILE);
    private static final Pattern NOTHING = Pattern.compile("(?!)");
    private static final Pattern KIND = Pattern.compile("[a-z][a-z0-9-]*");

    private final Complaints complaints = new Complaints();
    private final Section top;
    private Carrier over = Carrier.SSH;

    private DialectText(String file, String text) {
        top = Section.ofText("dialect", file, text, complaints);
    }

    /**
     * @throws RejectedText with everything that is wrong, each at its line and column
     */
    public static Dialect read(String file, String text) {
        return new DialectText(file, text).read();
    }

    private Dialect read() {
        if (top.number("dialect", 0) != 1) {
            top.complain("dialect", "Expected \"dialect: 1\", the format that this version reads.");
        }
        String family = top.text("family");
        Duration within = top.duration("answers-within", Duration.ofSeconds(15));
        over = top.find("over", Carrier::parse).orElse(Carrier.SSH);
        Dialect dialect =
                new Dialect(
                        family,
                        top.text("title", family),
                        over,
                        top.section("signs-in").map(this::signIn),
                        recognition(),
                        ofLines("prompt"),
                        top.section("pager").map(this::pager),
                        ofLines("question"),
                        top.text("back-out", "\u0003"),
                        top.sections("errors").stream().map(this::errorLine).toList(),
                        within,
                        top.section("locks-out")
                                .map(DialectWords::lockOut)
                                .orElse(SignIns.LockOut.USUAL),
                        top.sections("enters-with").stream()
                                .map(section -> entry(section, within))
                                .toList(),
                        DialectWords.findPattern(top, "loader-prompt"),
                        top.sections("reading").stream().map(this::readCommand).toList(),
                        configurations(within),
                        top.texts("cannot-give"),
                        acts(within),
                        installs(within),
                        patterns("console-complaints"),
                        patterns("volatile-lines"),
                        patterns("secrets"));
        checkNeeded(dialect);
        top.close();
        complaints.throwIfAny();
        return dialect;
    }

    private void checkNeeded(Dialect dialect) {
        List<What> told =
                dialect.readings().stream()
                        .flatMap(r -> r.finds().stream())
                        .map(Find::what)
                        .toList();
        NEEDED.stream()
                .filter(what -> !told.contains(what))
                .forEach(
                        what ->
                                top.complain(
                                        "reading",
                                        "No command of the reading tells \"%s\"; a run needs it."
                                                .formatted(DialectWords.word(what))));
        List<String> missing =
                DRAINING.stream().filter(act -> !dialect.acts().containsKey(act)).toList();
        if (!missing.isEmpty() && missing.size() < DRAINING.size()) {
            top.complain(
                    "acts",
                    "What is drained must be shown to be so, and be let carry its traffic again:"
                            + " %s missing beside the others of its kind."
                                    .formatted(String.join(", ", missing)));
        }
    }

    /** What only a line of characters has: there it is needed, elsewhere it would mean nothing. */
    private Pattern ofLines(String key) {
        if (over == Carrier.SSH) {
            return pattern(top, key);
        }
        if (top.has(key)) {
            top.complain(key, "Over %s there is no %s; leave it out.".formatted(over, key));
        }
        return NOTHING;
    }

    private SignIn signIn(Section section) {
        try (section) {
            if (over != Carrier.HTTPS) {
                section.complain("send", "Signing in by a request is for dialects over https.");
            }
            String header = section.text("header", "Authorization: Bearer {token}");
            if (!header.contains(": ") || !header.contains("{token}")) {
                section.complain(
                        "header",
                        "Expected a header line with {token} in it, such as \"Authorization: Bearer"
                                + " {token}\".");
            }
            return new SignIn(section.text("send"), sight(section), header);
        }
    }

    private Pattern pattern(Section section, String key) {
        if (!section.has(key)) {
            section.text(key);
        }
        return DialectWords.findPattern(section, key).orElse(NOTHING);
    }

    private List<Pattern> patterns(String key) {
        return top.sections(key).stream()
                .map(
                        section -> {
                            try (section) {
                                return pattern(section, "shows");
                            }
                        })
                .toList();
    }

    private Recognition recognition() {
        return top.section("recognise")
                .map(
                        section -> {
                            try (section) {
                                return new Recognition(
                                        DialectWords.findPattern(section, "ssh-greeting"),
                                        DialectWords.findPattern(section, "snmp-object"),
                                        DialectWords.findPattern(section, "snmp-description"));
                            }
                        })
                .orElse(Recognition.NONE);
    }

    private Pager pager(Section section) {
        try (section) {
            return new Pager(pattern(section, "shows"), section.text("press"));
        }
    }

    private ErrorLine errorLine(Section section) {
        try (section) {
            return new ErrorLine(pattern(section, "shows"), section.text("means"));
        }
    }

    private ReadCommand readCommand(Section section) {
        try (section) {
            return new ReadCommand(
                    section.text("send"),
                    section.sections("tells").stream().map(this::find).toList());
        }
    }

    private Find find(Section section) {
        try (section) {
            What what = section.require("what", DialectWords::whatOf).orElse(What.FACT);
            Sight sight = sight(section);
            String kind = section.text("kind", what == What.RELEASE ? "system" : "");
            String component = section.text("component", "");
            for (String group : DialectWords.groupsOf(what)) {
                if (!sight.names().contains(group)) {
                    section.complain(
                            section.has("shows") ? "shows" : "takes",
                            sight instanceof Sight.ByPattern
                                    ? "A pattern that tells \"%s\" needs the group (?<%s>…)."
                                            .formatted(DialectWords.word(what), group)
                                    : "What tells \"%s\" needs \"%s\" among what it takes."
                                            .formatted(DialectWords.word(what), group));
                }
            }
            if (what == What.PART) {
                section.find("kind", Part.Kind::parse);
            }
            if (!component.isEmpty() && !sight.names().contains(RUNS)) {
                section.complain(
                        "component",
                        "With \"component\", the release is told under the name \"%s\"."
                                .formatted(RUNS));
            }
            if (what == What.WAITING && kind.isEmpty()) {
                section.complain(
                        "kind", "What waits needs \"kind\", the component that takes it over.");
            }
            return new Find(
                    what,
                    kind,
                    sight,
                    section.flag("optional", false),
                    DialectWords.means(section),
                    component);
        }
    }

    /** Where to look: by a pattern in a text; by a path in JSON; by numbers among objects. */
    private Sight sight(Section section) {
        if (section.has("shows") || over == Carrier.SSH) {
            return new Sight.ByPattern(pattern(section, "shows"));
        }
        Map<String, Pattern> is = new LinkedHashMap<>();
        section.section("is")
                .ifPresent(
                        wanted -> {
                            try (wanted) {
                                wanted.keys().forEach(name -> is.put(name, pattern(wanted, name)));
                            }
                        });
        Map<String, String> takes = new LinkedHashMap<>();
        section.section("takes")
                .ifPresent(
                        names -> {
                            try (names) {
                                names.keys().forEach(name -> takes.put(name, names.text(name)));
                            }
                        });
        String each = section.text("each", "");
        Optional<String> at = section.findText("at");
        if (at.isPresent() == !takes.isEmpty()) {
            section.complain(
                    "at",
                    "Expected either \"at\", one place, or \"takes\", several with their names.");
        }
        if (over == Carrier.SNMP) {
            return new Sight.ByColumn(at.orElse(each), takes, is);
        }
        at.ifPresent(place -> takes.put("value", place));
        return new Sight.ByPath(each, takes, is);
    }

    private Map<String, ConfigurationCommand> configurations(Duration within) {
        Map<String, ConfigurationCommand> commands = new LinkedHashMap<>();
        Optional<Section> given = top.section("configurations");
        for (String kind : List.of("running", "startup")) {
            Optional<Section> section = given.flatMap(g -> g.section(kind));
            if (section.isEmpty()) {
                top.complain(
                        "configurations",
                        "The configuration \"%s\" is missing; a backup needs both."
                                .formatted(kind));
            }
            section.ifPresent(s -> commands.put(kind, configuration(s, List.of())));
        }
        given.ifPresent(Section::close);
        top.section("keeps").ifPresent(further -> keepFurther(further, commands, within));
        return commands;
    }

    private void keepFurther(
            Section further, Map<String, ConfigurationCommand> commands, Duration within) {
        try (further) {
            for (String kind : further.keys()) {
                if (!KIND.matcher(kind).matches() || commands.containsKey(kind)) {
                    further.complain(
                            kind,
                            "Expected a name of its own, of small letters, digits and dashes; saw \"%s\"."
                                    .formatted(kind));
                }
                further.section(kind)
                        .ifPresent(
                                section ->
                                        commands.put(
                                                kind,
                                                configuration(section, putBack(section, within))));
            }
        }
    }

    private List<ActCommand> putBack(Section section, Duration within) {
        List<ActCommand> commands =
                section.sections("put-back").stream()
                        .map(command -> actCommand(command, within))
                        .toList();
        if (!commands.isEmpty() && commands.stream().noneMatch(c -> c.send().contains("{kept}"))) {
            section.complain(
                    "put-back",
                    "Expected a command that sends {kept}: what is put back; saw none.");
        }
        return commands;
    }

    private ConfigurationCommand configuration(Section section, List<ActCommand> putBack) {
        try (section) {
            return new ConfigurationCommand(
                    section.text("send"),
                    pattern(section, "ends-with"),
                    section.has("each") || section.has("at")
                            ? Optional.of(sight(section))
                            : Optional.empty(),
                    putBack);
        }
    }

    private Map<String, List<ActCommand>> acts(Duration within) {
        Map<String, List<ActCommand>> acts = new LinkedHashMap<>();
        Optional<Section> given = top.section("acts");
        for (String act : ACTS) {
            List<Section> commands = given.map(g -> g.sections(act)).orElse(List.of());
            // Who is sent a file need not reach anything.
            boolean needed =
                    !act.equals("reach")
                            || acts.getOrDefault("fetch", List.of()).stream()
                                    .noneMatch(ActCommand::uploads);
            if (commands.isEmpty() && needed) {
                top.complain("acts", "The act \"%s\" is missing; a run needs it.".formatted(act));
            }
            acts.put(act, commands.stream().map(section -> actCommand(section, within)).toList());
        }
        for (String act : FURTHER_ACTS) {
            given.filter(g -> g.has(act))
                    .ifPresent(
                            g ->
                                    acts.put(
                                            act,
                                            g.sections(act).stream()
                                                    .map(section -> actCommand(section, within))
                                                    .toList()));
        }
        given.filter(
                        _ ->
                                acts.containsKey(LoaderAtConsole.LOAD)
                                                != acts.containsKey(LoaderAtConsole.START)
                                        || (acts.containsKey(LoaderAtConsole.LOAD)
                                                && !top.has("loader-prompt")))
                .ifPresent(
                        g ->
                                g.complain(
                                        acts.containsKey(LoaderAtConsole.LOAD)
                                                ? LoaderAtConsole.LOAD
                                                : LoaderAtConsole.START,
                                        "A rescue needs \"loader-prompt\" and both acts, \"%s\" and \"%s\"."
                                                .formatted(
                                                        LoaderAtConsole.LOAD,
                                                        LoaderAtConsole.START)));
        given.ifPresent(Section::close);
        return acts;
    }

    private Map<String, List<ActCommand>> installs(Duration within) {
        Map<String, List<ActCommand>> installs = new LinkedHashMap<>();
        top.section("installs")
                .ifPresent(
                        given -> {
                            try (given) {
                                given.keys()
                                        .forEach(
                                                component ->
                                                        install(
                                                                component, installs, given,
                                                                within));
                            }
                        });
        return installs;
    }

    private void install(
            String component,
            Map<String, List<ActCommand>> installs,
            Section given,
            Duration within) {
        installs.put(
                component,
                given.sections(component).stream()
                        .map(section -> actCommand(section, within))
                        .toList());
    }

    private ActCommand actCommand(Section section, Duration within) {
        try (section) {
            String send = section.text("send");
            DialectWords.mustKnowPlaces(send, section);
            List<Answer> answers = section.sections("asks").stream().map(this::answer).toList();
            return new ActCommand(
                    send,
                    answers,
                    pattern(section, "expect"),
                    DialectWords.findPattern(section, "absent"),
                    section.duration("within", within),
                    section.flag("ends-line", false),
                    DialectWords.findPattern(section, "until"),
                    section.flag("uploads", false));
        }
    }

    private Entry entry(Section section, Duration within) {
        try (section) {
            return new Entry(
                    section.text("send"),
                    section.sections("asks").stream().map(this::answer).toList(),
                    section.duration("within", within));
        }
    }

    private Answer answer(Section section) {
        try (section) {
            return new Answer(pattern(section, "shows"), section.text("say"));
        }
    }
}
