package calmstep.cli;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What a person changes of the inventory without a file, and takes back. */
final class FleetByHand {
    private FleetByHand() {}

    private static void tell(Common common, JsonNode done) {
        common.out().print(done, ImportedWords.of(done, false));
    }

    private static void tell(Common common, String words) {
        common.out().print(JsonMapper.shared().valueToTree(Map.of("said", words)), words);
    }

    /** A value that holds several has "; " between them. */
    private static Map<String, Object> fields(List<String> pairs) {
        Map<String, Object> fields = new LinkedHashMap<>();
        for (String pair : pairs) {
            int sign = pair.indexOf('=');
            if (sign < 1) {
                throw new Problem(
                        Problem.WRONG_CALL,
                        "Expected FIELD=VALUE such as serial=OS6-20418, saw \"%s\"."
                                .formatted(pair));
            }
            fields.put(pair.substring(0, sign), pair.substring(sign + 1));
        }
        return fields;
    }

    @Command(
            name = "set",
            description =
                    "Set fields of a device, called as the columns of a table; an empty value"
                            + " empties, what is not named stays.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet set rt-dunmere-1 serial=OS6-20418 \"tags=quay; spare\""
            })
    static final class Set implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", index = "0")
        String name = "";

        @Parameters(paramLabel = "FIELD=VALUE", index = "1..*", arity = "1..*")
        List<String> pairs = List.of();

        @Override
        public Integer call() {
            tell(
                    common,
                    common.service()
                            .put(
                                    "/api/devices/%s/fields".formatted(Service.encode(name)),
                                    Map.of("set", fields(pairs))));
            return 0;
        }
    }

    @Command(
            name = "site",
            description =
                    "Set title, zone and contacts of a site, or make a new one; rename it, or take"
                            + " it away.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet site dunmere \"title=Dunmere quay\" contacts=quay@dunmere.example"
            })
    static final class Site implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "SITE", index = "0")
        String name = "";

        @Parameters(paramLabel = "FIELD=VALUE", index = "1..*", arity = "0..*")
        List<String> pairs = List.of();

        @Option(names = "--retire", description = "take it away; no device may stand there")
        boolean retire;

        @Option(
                names = "--rename",
                paramLabel = "NEW-NAME",
                description =
                        "another name; what stands there moves with it, and windows that name it"
                                + " by the old one still hold for it")
        String to = "";

        @Override
        public Integer call() {
            String path = "/api/sites/" + Service.encode(name);
            if (retire && !to.isEmpty()) {
                throw new Problem(Problem.WRONG_CALL, "Expected --retire or --rename; saw both.");
            }
            if (!to.isEmpty()) {
                common.service().put(path + "/name", Map.of("name", to));
                tell(common, "The site %s is called %s from now on.".formatted(name, to));
                return 0;
            }
            if (retire) {
                common.service().delete(path);
                tell(common, "The site %s is retired.".formatted(name));
                return 0;
            }
            Map<String, Object> fields = fields(pairs);
            fields.computeIfPresent(
                    "contacts",
                    (_, several) ->
                            Arrays.stream(several.toString().split("[;\\s]+"))
                                    .filter(one -> !one.isEmpty())
                                    .toList());
            tell(common, common.service().put(path + "/fields", Map.of("set", fields)));
            return 0;
        }
    }

    @Command(
            name = "undo",
            description =
                    "Take the newest change of the inventory back, an import or one by hand;"
                            + " devices that it added are retired.",
            mixinStandardHelpOptions = true)
    static final class Undo implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            tell(common, common.service().post("/api/inventory/undo", Map.of()));
            return 0;
        }
    }

    @Command(
            name = "rename",
            description =
                    "Give a device another name. Its history stays; plans that name it are worked"
                            + " out again.",
            mixinStandardHelpOptions = true)
    static final class Rename implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", index = "0")
        String name = "";

        @Parameters(paramLabel = "NEW-NAME", index = "1")
        String to = "";

        @Override
        public Integer call() {
            common.service()
                    .put(
                            "/api/devices/%s/name".formatted(Service.encode(name)),
                            Map.of("name", to));
            tell(common, "%s is called %s from now on.".formatted(name, to));
            return 0;
        }
    }

    @Command(
            name = "retire",
            description =
                    "Take a device out of the fleet. Its history stays, and an import of its name"
                            + " brings it back.",
            mixinStandardHelpOptions = true)
    static final class Retire implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", index = "0")
        String name = "";

        @Option(names = "--why", required = true, description = "kept in the trail")
        String why = "";

        @Override
        public Integer call() {
            common.service()
                    .post(
                            "/api/devices/%s/retirement".formatted(Service.encode(name)),
                            Map.of("why", why));
            tell(common, "%s is retired.".formatted(name));
            return 0;
        }
    }
}
