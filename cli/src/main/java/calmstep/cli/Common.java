package calmstep.cli;

import picocli.CommandLine.Option;

/** Options of every command that talks with the service. */
final class Common {
    @Option(
            names = "--output",
            paramLabel = "FORMAT",
            description = "table, json, yaml or csv (default: table)",
            defaultValue = "table")
    String output = "table";

    @Option(
            names = "--url",
            paramLabel = "URL",
            description = "the service (default: CALMSTEP_URL, or where you signed in)")
    String url = "";

    Service service() {
        return Service.open(url);
    }

    Output out() {
        return new Output(output);
    }
}
