package calmstep.cli;

import calmstep.cli.RunOrders.AboutUnit;
import calmstep.cli.RunOrders.AboutUnitWithWhy;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** What a person says about a unit that is stuck. */
final class StuckOrders {
    private StuckOrders() {}

    @Command(
            name = "again",
            description =
                    "Have a unit that came back on what it ran before choose its image and restart"
                            + " once more.",
            mixinStandardHelpOptions = true)
    static final class Again extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("again", "%s chooses its image and restarts once more.");
        }
    }

    @Command(
            name = "answer",
            description =
                    "Have the question that a unit is stuck at answered, once; the step is tried"
                            + " again.",
            mixinStandardHelpOptions = true)
    static final class AnswerOnce extends AboutUnit {
        @Option(names = "--say", required = true, description = "what is answered")
        String say = "";

        @Option(names = "--why", required = true, description = "kept in the record")
        String why = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "answer",
                    Map.of("say", say, "why", why),
                    "%s is asked again; that one question is answered, once.");
        }
    }

    @Command(
            name = "take-over",
            description =
                    "Take the configuration of a unit over as it stands on the device, where"
                            + " somebody changed it; it is backed up anew before it goes on.",
            mixinStandardHelpOptions = true)
    static final class TakeOver extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy(
                    "take-over",
                    "The configuration of %s is taken over as it stands on the device.");
        }
    }

    @Command(
            name = "retry",
            description = "Try the failed step of a unit again; it looks first.",
            mixinStandardHelpOptions = true)
    static final class Retry extends AboutUnit {
        @Override
        public Integer call() {
            return sayOfUnit("retry", Map.of(), "%s is tried again.");
        }
    }

    @Command(
            name = "rescue",
            description =
                    "Start a device that stopped in its boot loader from memory, over its console"
                            + " line; then it has to start by itself.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run rescue tonight rt-eskholm-1 --with osmer-r6c-2.6.3.img"
            })
    static final class Rescue extends AboutUnit {
        @Option(
                names = "--with",
                paramLabel = "IMAGE",
                description =
                        "an image on the shelf; left out: its maker's recovery image, what it ran"
                                + " before, or what it was to run")
        String image = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "rescue",
                    image.isEmpty() ? Map.of() : Map.of("image", image),
                    "%s is being rescued.");
        }
    }

    @Command(
            name = "return",
            description =
                    "Take a unit that is stuck behind its boot choice back to what it ran, its"
                            + " configuration with it.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep run return tonight rt-dunmere-1 --why \"the crew office has no"
                        + " telephone on it\""
            })
    static final class Return extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("return", "%s goes back.");
        }
    }

    @Command(
            name = "replace",
            description =
                    "Say that another box stands where a unit is stuck: it is met, brought to the"
                            + " release of the hop, given the backed-up configuration, and proven.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "The new box needs the name's address and login; everything else comes from the"
                        + " run.",
                "",
                "Example, on the demo:",
                "  calmstep run replace tonight rt-dunmere-1 --serial OS-93310 --why \"its power"
                        + " supply burnt\""
            })
    static final class Replace extends AboutUnitWithWhy {
        @Option(
                names = "--serial",
                required = true,
                paramLabel = "NUMBER",
                description = "what the new box says of itself, and its label too")
        String serial = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "replacement",
                    Map.of("serial", serial, "why", why),
                    "Another box takes the place of %s.");
        }
    }

    @Command(
            name = "replace-member",
            description =
                    "Say that another box stands in the place of a member of a unit: what its hop"
                            + " brings is brought to all members once more, and who does not run it"
                            + " yet restarts.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Put it in, and wait until it has joined the others.",
                "",
                "Example, on the demo:",
                "  calmstep run replace-member tonight sw-ostrand-1 --member 2 --serial TA-90417"
                        + " --why \"its fan stood still\""
            })
    static final class ReplaceMember extends AboutUnitWithWhy {
        @Option(
                names = "--member",
                required = true,
                paramLabel = "MEMBER",
                description = "as the unit names it")
        String member = "";

        @Option(
                names = "--serial",
                required = true,
                paramLabel = "NUMBER",
                description = "what the new box says of itself, and its label too")
        String serial = "";

        @Override
        public Integer call() {
            return sayOfUnit(
                    "member-replacement",
                    Map.of("member", member, "serial", serial, "why", why),
                    "Another box takes the place of a member of %s.");
        }
    }

    @Command(
            name = "without",
            description =
                    "Go on with a unit although members of it are out, as long as they are; that"
                            + " they were missed is put to somebody's judgement at the end.",
            mixinStandardHelpOptions = true)
    static final class Without extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("without", "%s goes on without the members that are out.");
        }
    }

    @Command(
            name = "skip",
            description =
                    "Leave the failed step of a unit out, where nothing behind it builds upon it.",
            mixinStandardHelpOptions = true)
    static final class Skip extends AboutUnitWithWhy {
        @Override
        public Integer call() {
            return sayWhy("skip", "%s goes on without that step.");
        }
    }
}
