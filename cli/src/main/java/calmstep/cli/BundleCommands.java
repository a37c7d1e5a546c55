package calmstep.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/**
 * Catalogues and images in one signed file, for a network that nothing reaches; words under {@code
 * shelf}.
 */
final class BundleCommands {
    private BundleCommands() {}

    @Command(
            name = "bundle",
            description =
                    "Write images and their catalogues into one signed file, to be carried into an"
                            + " isolated network.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep shelf bundle --plan tonight --to tonight.bundle"
            })
    static final class Make implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(
                paramLabel = "IMAGE",
                arity = "0..*",
                description = "neither an image nor a plan means the whole shelf")
        List<String> files = List.of();

        @Option(names = "--plan", paramLabel = "PLAN", description = "all images that it needs")
        String plan = "";

        @Option(names = "--to", paramLabel = "FILE", required = true)
        Path to = Path.of("");

        @Override
        public Integer call() throws java.io.IOException {
            common.service().postForFile("/api/bundles", Map.of("files", files, "plan", plan), to);
            System.err.printf(
                    "%s holds it, %s. The other side takes it with: calmstep shelf take %s%n",
                    to, Output.bytes(Files.size(to)), to.getFileName());
            return 0;
        }
    }

    @Command(
            name = "take",
            description =
                    "Take a bundle over; it must be signed by a trusted key, and everything in it"
                            + " as listed.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep shelf take tonight.bundle"})
    static final class Take implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE")
        Path file = Path.of("");

        @Override
        public Integer call() {
            JsonNode taken =
                    common.service()
                            .putFile(
                                    "/api/bundles/"
                                            + Service.encode(String.valueOf(file.getFileName())),
                                    file);
            common.out()
                    .print(
                            taken,
                            "catalogues: %s%nimages: %s"
                                    .formatted(
                                            words(taken.path("catalogues"), "all here already"),
                                            words(taken.path("images"), "none")));
            return 0;
        }

        private static String words(JsonNode list, String otherwise) {
            return list.isEmpty()
                    ? otherwise
                    : list.valueStream().map(JsonNode::asString).collect(Collectors.joining(", "));
        }
    }

    @Command(
            name = "key",
            description =
                    "The public key that signs this house's bundles, and the keys that are trusted"
                            + " here.",
            mixinStandardHelpOptions = true)
    static final class Key implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            Service service = common.service();
            JsonNode own = service.get("/api/bundle-key");
            StringBuilder text =
                    new StringBuilder(
                            "our own  %s%n         %s%n"
                                    .formatted(
                                            own.path("fingerprint").asString(),
                                            own.path("publicKey").asString()));
            addTrusted(service, text);
            common.out().print(own, text.toString());
            return 0;
        }

        private static void addTrusted(Service service, StringBuilder text) {
            service.get("/api/trusted-keys")
                    .forEach(
                            k ->
                                    text.append(
                                            "trusted  %s  %s%n"
                                                    .formatted(
                                                            k.path("fingerprint").asString(),
                                                            k.path("name").asString())));
        }
    }

    @Command(
            name = "trust",
            description =
                    "Take bundles that this key signed; compare its fingerprint with the other side"
                            + " first.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example:", "  calmstep shelf trust head-office --key MCowBQYDK2VwAyEA…"})
    static final class Trust implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Option(
                names = "--key",
                paramLabel = "KEY",
                description = "as \"calmstep shelf key\" prints it there")
        String key = "";

        @Option(names = "--no-more", description = "trust it no more")
        boolean noMore;

        @Override
        public Integer call() {
            if (noMore != key.isEmpty()) {
                throw new Problem(Problem.WRONG_CALL, "Expected either --key KEY or --no-more.");
            }
            if (noMore) {
                common.service().delete("/api/trusted-keys/" + Service.encode(name));
                return 0;
            }
            return trust();
        }

        private Integer trust() {
            JsonNode trusted =
                    common.service()
                            .put(
                                    "/api/trusted-keys/" + Service.encode(name),
                                    Map.of("publicKey", key));
            common.out()
                    .print(
                            trusted,
                            "Bundles of %s are taken from now on. Its fingerprint: %s"
                                    .formatted(name, trusted.path("fingerprint").asString()));
            return 0;
        }
    }
}
