package calmstep.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Makers' download services; words under {@code shelf}. */
final class SourceCommands {
    private SourceCommands() {}

    @Command(
            name = "source",
            description = "Set a maker's download service; passwords are never shown again.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep shelf source makers https://127.0.0.1:8452 --user northmere",
                "    --certificate build/demo/maker.pem"
            })
    static final class Source implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(index = "0", paramLabel = "NAME")
        String name = "";

        @Parameters(
                index = "1",
                paramLabel = "URL",
                description = "https://host or https://host:port")
        String url = "";

        @Option(names = "--user", required = true)
        String user = "";

        @Option(
                names = "--certificate",
                paramLabel = "FILE",
                description = "trust this certificate (PEM) for this source alone")
        Path certificate = Path.of("");

        @Option(
                names = "--proxy",
                paramLabel = "HOST:PORT",
                description = "the way out leads through this proxy")
        String proxy = "";

        @Option(
                names = "--proxy-user",
                paramLabel = "USER",
                description = "who we are at the proxy; its password is asked for second")
        String proxyUser = "";

        @Option(
                names = "--password-stdin",
                description =
                        "read the password from standard input, and the proxy's from its next line")
        boolean passwordStdin;

        @Override
        public Integer call() {
            List<String> asked = new ArrayList<>(List.of("Password of %s: ".formatted(user)));
            if (!proxyUser.isEmpty()) {
                asked.add("Password of %s at the proxy: ".formatted(proxyUser));
            }
            List<String> passwords = PeopleCommands.passwords(passwordStdin, asked);
            Map<String, Object> source =
                    new HashMap<>(
                            Map.of(
                                    "url",
                                    url,
                                    "user",
                                    user,
                                    "password",
                                    passwords.getFirst(),
                                    "proxy",
                                    proxy,
                                    "proxyUser",
                                    proxyUser,
                                    "certificate",
                                    certificate.toString().isEmpty()
                                            ? ""
                                            : GivenFile.read(certificate)));
            if (passwords.size() > 1) {
                source.put("proxyPassword", passwords.get(1));
            }
            common.service().put("/api/sources/" + Service.encode(name), source);
            System.err.printf("The source %s is set. Ask it: calmstep shelf news%n", name);
            return 0;
        }
    }

    @Command(
            name = "sources",
            description = "The download services that are known.",
            mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode sources = common.service().get("/api/sources");
            Table table =
                    new Table()
                            .column("source", 0)
                            .column("address", 0)
                            .column("user", 2)
                            .column("proxy", 3)
                            .column("certificate", 4)
                            .column("asked", 1);
            sources.forEach(
                    s ->
                            table.row(
                                    s.path("name").asString(),
                                    s.path("url").asString(),
                                    s.path("user").asString(),
                                    s.path("proxy").asString(),
                                    s.path("ownCertificate").asBoolean()
                                            ? "its own"
                                            : "by an authority",
                                    s.path("askedAt").isNull()
                                            ? "never"
                                            : Ago.of(s.path("askedAt"))));
            common.out()
                    .print(
                            sources,
                            table,
                            "No source is known. Set one with: calmstep shelf source NAME URL"
                                    + " --user …");
            return 0;
        }
    }

    @Command(
            name = "news",
            description =
                    "Ask the sources what they published since last time; --all tells everything"
                            + " that they offer.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example, on the demo:", "  calmstep shelf news"})
    static final class News implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Option(names = "--all", description = "everything on offer, without asking again")
        boolean all;

        @Override
        public Integer call() {
            Service service = common.service();
            tools.jackson.databind.node.ArrayNode offers =
                    tools.jackson.databind.json.JsonMapper.shared().createArrayNode();
            if (all) {
                service.get("/api/offers").forEach(offers::add);
            } else {
                service.get("/api/sources")
                        .forEach(
                                s ->
                                        service.post(
                                                        "/api/sources/%s/asked"
                                                                .formatted(
                                                                        Service.encode(
                                                                                s.path("name")
                                                                                        .asString())),
                                                        Map.of())
                                                .forEach(offers::add));
            }
            Table table =
                    new Table()
                            .column("file", 0)
                            .column("kind", 2)
                            .column("family", 1)
                            .column("size", 3)
                            .column("source", 4)
                            .column("is", 0);
            offers.forEach(
                    o ->
                            table.row(
                                    o.path("fileName").asString(),
                                    o.path("kind").asString(),
                                    o.path("family").asString(),
                                    Output.bytes(o.path("sizeBytes").asLong()),
                                    o.path("source").asString(),
                                    standing(o.path("standing").asString())));
            common.out()
                    .print(
                            offers,
                            table,
                            all
                                    ? "Nothing is on offer. Ask with: calmstep shelf news"
                                    : "Nothing new since last time.");
            return 0;
        }

        private static String standing(String standing) {
            return switch (standing) {
                case "here" -> "here";
                case "no-catalogue" -> "in no catalogue here";
                default -> "not here yet";
            };
        }
    }

    @Command(
            name = "fetch",
            description =
                    "Fetch offered files, or all images that a plan lacks. What is cut goes on"
                            + " where it ended; Ctrl-C keeps what came.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Examples, on the demo:",
                "  calmstep shelf fetch --plan tonight",
                "  calmstep shelf fetch osmer-r6.yaml osmer-r6c-2.9.0.img"
            })
    static final class Fetch implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "FILE", arity = "0..*")
        List<String> files = List.of();

        @Option(names = "--plan", paramLabel = "PLAN", description = "all images that it lacks")
        String plan = "";

        @Override
        public Integer call() throws InterruptedException {
            Service service = common.service();
            JsonNode job =
                    FollowedJob.toItsEnd(
                            service,
                            service.post("/api/fetches", Map.of("files", files, "plan", plan)),
                            "fetched");
            int failed = job.path("failed").asInt();
            common.out()
                    .print(
                            job,
                            "%s fetched and proven%s."
                                    .formatted(
                                            job.path("done").asInt() - failed,
                                            failed == 0 ? "" : ", %s not".formatted(failed)));
            job.path("troubles").forEach(t -> System.err.println(t.asString()));
            return failed == 0 ? 0 : Problem.STOPS;
        }
    }

    @Command(
            name = "forget-source",
            description = "Forget a source and what it offered; what was fetched stays.",
            mixinStandardHelpOptions = true)
    static final class Forget implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "SOURCE")
        String name = "";

        @Override
        public Integer call() {
            common.service().delete("/api/sources/" + Service.encode(name));
            return 0;
        }
    }
}
