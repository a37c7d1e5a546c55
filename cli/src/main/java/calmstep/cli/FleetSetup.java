package calmstep.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What the fleet is set up with: logins, and keys that a device is known by. */
final class FleetSetup {
    private FleetSetup() {}

    @Command(
            name = "login",
            description =
                    "Set the user and password, or private key, that open devices; neither is ever"
                            + " shown again.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet login steward --user steward",
                "  calmstep fleet login hosts --user calm --key ~/.ssh/id_ed25519",
                "  calmstep fleet login far --user calm --agent",
                "  calmstep fleet login reads --snmp v2c"
            })
    static final class Login implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "LOGIN", description = "the name that the inventory uses")
        String name = "";

        @Option(names = "--user", description = "not for SNMP v2c")
        String user = "";

        @Option(
                names = "--key",
                paramLabel = "FILE",
                description =
                        "a private key in place of a password; the password is its passphrase then,"
                                + " empty for none")
        @Nullable Path key;

        @Option(
                names = "--agent",
                description = "whatever keys the service's SSH agent holds, in place of a password")
        boolean agent;

        @Option(
                names = "--snmp",
                paramLabel = "VERSION",
                description =
                        "v2c or v3: a login for SNMP; the password is the community, or the"
                                + " authentication password")
        String snmp = "";

        @Option(
                names = "--authentication",
                paramLabel = "HOW",
                description = "SNMP v3: sha1, sha256 or sha512 (default: sha256)",
                defaultValue = "sha256")
        String authentication = "sha256";

        @Option(
                names = "--privacy",
                paramLabel = "HOW",
                description =
                        "SNMP v3: none, aes128 or aes256 (default: aes128); its password is asked"
                                + " for second",
                defaultValue = "aes128")
        String privacy = "aes128";

        @Option(
                names = "--password-stdin",
                description =
                        "read the password from standard input, and a second one from its next"
                                + " line")
        boolean passwordStdin;

        @Override
        public Integer call() {
            if (user.isEmpty() != snmp.equals("v2c")) {
                throw new Problem(
                        Problem.WRONG_CALL, "Expected --user NAME, or --snmp v2c without a user.");
            }
            if (agent) {
                common.service()
                        .put(
                                "/api/logins/" + Service.encode(name),
                                Map.of("user", user, "password", "", "agent", true));
                System.err.printf(
                        "The login %s is set: the keys of the service's SSH agent.%n", name);
                return 0;
            }
            List<String> asked =
                    new ArrayList<>(
                            List.of(
                                    snmp.equals("v2c")
                                            ? "Community: "
                                            : key != null
                                                    ? "Passphrase of the key: "
                                                    : "Password of the devices: "));
            if (snmp.equals("v3") && !privacy.equals("none")) {
                asked.add("Privacy password: ");
            }
            List<String> passwords = PeopleCommands.passwords(passwordStdin, asked);
            Map<String, Object> login =
                    new LinkedHashMap<>(Map.of("user", user, "password", passwords.getFirst()));
            if (key != null) {
                login.put("key", GivenFile.read(key));
            }
            if (!snmp.isEmpty()) {
                login.put(
                        "snmp",
                        Map.of(
                                "version",
                                snmp,
                                "authentication",
                                authentication,
                                "privacy",
                                privacy,
                                "privacyPassword",
                                passwords.size() > 1 ? passwords.get(1) : ""));
            }
            common.service().put("/api/logins/" + Service.encode(name), login);
            System.err.printf("The login %s is set.%n", name);
            return 0;
        }
    }

    @Command(
            name = "as-read",
            description =
                    "Take over what devices said of themselves where the inventory says otherwise:"
                            + " model, revision, region, brand, features, serial number, members.",
            mixinStandardHelpOptions = true,
            footer = {
                "",
                "Example, on the demo:",
                "  calmstep fleet as-read rt-dunmere-1 --why \"the box was exchanged in May\""
            })
    static final class AsRead implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE", arity = "1..*")
        List<String> names = List.of();

        @Option(names = "--why", description = "kept in the trail", defaultValue = "")
        String why = "";

        @Override
        public Integer call() {
            List<JsonNode> after = new ArrayList<>();
            for (String name : names) {
                after.add(
                        common.service()
                                .post(
                                        "/api/devices/%s/as-read".formatted(Service.encode(name)),
                                        Map.of("why", why)));
            }
            common.out()
                    .print(
                            JsonMapper.shared().valueToTree(after),
                            after.stream()
                                    .map(FleetSetup::described)
                                    .collect(Collectors.joining(System.lineSeparator())));
            return 0;
        }
    }

    private static String described(JsonNode d) {
        return "%s is described as it was read: %s%s, serial %s."
                .formatted(
                        d.path("name").asString(),
                        d.path("model").asString(),
                        d.path("revision").asString("").isEmpty()
                                ? ""
                                : " revision " + d.path("revision").asString(),
                        d.path("serial").asString());
    }

    @Command(
            name = "forget-key",
            description =
                    "Forget the host key of a device, jump host or console server that was"
                            + " replaced; the next one is believed.",
            mixinStandardHelpOptions = true)
    static final class ForgetKey implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "DEVICE|HOST:PORT")
        String name = "";

        @Override
        public Integer call() {
            common.service()
                    .delete(
                            "/api/%s/%s/host-key"
                                    .formatted(
                                            name.contains(":") ? "stops" : "devices",
                                            Service.encode(name)));
            return 0;
        }
    }
}
