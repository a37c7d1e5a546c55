package calmstep.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.IntStream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "people",
        description = "Who may do what.",
        mixinStandardHelpOptions = true,
        subcommands = {
            PeopleCommands.ListAll.class,
            PeopleCommands.Add.class,
            PeopleCommands.Password.class,
            PeopleCommands.NewToken.class
        })
final class PeopleCommands {
    /** From standard input when asked so (first line), else from the terminal without echo. */
    static String password(boolean fromStandardInput, String prompt) {
        return passwords(fromStandardInput, List.of(prompt)).getFirst();
    }

    /**
     * One for each prompt, from as many lines of standard input when asked so, else from the
     * terminal without echo.
     */
    static List<String> passwords(boolean fromStandardInput, List<String> prompts) {
        if (fromStandardInput) {
            List<String> lines = linesOfStandardInput();
            return IntStream.range(0, prompts.size())
                    .mapToObj(i -> i < lines.size() ? lines.get(i) : "")
                    .toList();
        }
        return prompts.stream().map(prompt -> asked(prompt)).toList();
    }

    private static String asked(String prompt) {
        return Optional.ofNullable(System.console())
                .map(console -> console.readPassword(prompt))
                .map(String::new)
                .orElseThrow(
                        () ->
                                new Problem(
                                        Problem.WRONG_CALL,
                                        "There is no terminal to ask for"
                                                + " the password; use"
                                                + " --password-stdin."));
    }

    private static List<String> linesOfStandardInput() {
        try {
            return new String(System.in.readAllBytes(), StandardCharsets.UTF_8).lines().toList();
        } catch (IOException failed) {
            throw new Problem(Problem.WRONG_CALL, "No password came on standard input.");
        }
    }

    @Command(
            name = "sign-in",
            description = "Sign in and keep a token for the next calls.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example:", "  calmstep sign-in --name admin"})
    static final class SignIn implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Option(names = "--name", required = true, description = "who you are")
        String name = "";

        @Option(names = "--password-stdin", description = "read the password from standard input")
        boolean passwordStdin;

        @Override
        public Integer call() {
            SignedIn at = SignedIn.load(common.url);
            String session =
                    Service.open(at.url())
                            .signIn(
                                    name,
                                    password(passwordStdin, "Password of %s: ".formatted(name)));
            new SignedIn(at.url(), session).save();
            JsonNode token = newToken(at);
            new SignedIn(at.url(), token.path("token").asString()).save();
            System.err.printf("Signed in at %s as %s.%n", at.url(), name);
            return 0;
        }

        private static JsonNode newToken(SignedIn at) {
            JsonNode token =
                    Service.open(at.url())
                            .post(
                                    "/api/tokens",
                                    Map.of(
                                            "label",
                                            "calmstep on " + System.getProperty("user.name")));
            return token;
        }
    }

    @Command(name = "list", description = "Who may do what.", mixinStandardHelpOptions = true)
    static final class ListAll implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            JsonNode people = common.service().get("/api/people");
            Table table = new Table().column("name", 0).column("role", 1);
            people.forEach(p -> table.row(p.path("name").asString(), p.path("role").asString()));
            common.out().print(people, table, "Nobody.");
            return 0;
        }
    }

    @Command(
            name = "add",
            description = "Add a person; the password is asked for.",
            mixinStandardHelpOptions = true,
            footer = {"", "Example:", "  calmstep people add ines --role approver"})
    static final class Add implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "NAME")
        String name = "";

        @Option(
                names = "--role",
                required = true,
                description = "viewer, operator, approver or admin")
        String role = "";

        @Option(names = "--password-stdin", description = "read the password from standard input")
        boolean passwordStdin;

        @Override
        public Integer call() {
            common.service()
                    .post(
                            "/api/people",
                            Map.of(
                                    "name",
                                    name,
                                    "role",
                                    role,
                                    "password",
                                    password(passwordStdin, "Password for %s: ".formatted(name))));
            System.err.printf("%s may sign in as %s.%n", name, role);
            return 0;
        }
    }

    @Command(
            name = "password",
            description = "Change your own password: the old one, then the new one.",
            mixinStandardHelpOptions = true)
    static final class Password implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Override
        public Integer call() {
            common.service()
                    .put(
                            "/api/me/password",
                            Map.of(
                                    "old",
                                    password(false, "Old password: "),
                                    "fresh",
                                    password(false, "New password: ")));
            System.err.println("The password is changed.");
            return 0;
        }
    }

    @Command(
            name = "token",
            description = "A token for a script; shown once.",
            mixinStandardHelpOptions = true)
    static final class NewToken implements Callable<Integer> {
        @Mixin Common common = new Common();

        @Parameters(paramLabel = "LABEL", description = "what it is for")
        String label = "";

        @Override
        public Integer call() {
            System.out.println(
                    common.service()
                            .post("/api/tokens", Map.of("label", label))
                            .path("token")
                            .asString());
            return 0;
        }
    }
}
