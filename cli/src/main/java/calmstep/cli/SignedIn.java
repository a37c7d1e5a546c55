package calmstep.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** Where somebody is signed in, kept in a file that only they can read. */
record SignedIn(String url, String token) {
    static final String DEFAULT_URL = "http://127.0.0.1:8440";

    static SignedIn load(String askedUrl) {
        String[] kept = kept();
        String url = first(askedUrl, System.getenv("CALMSTEP_URL"), kept[0], DEFAULT_URL);
        return new SignedIn(url, first(System.getenv("CALMSTEP_TOKEN"), kept[1]));
    }

    private static String first(String... candidates) {
        for (String candidate : candidates) {
            if (candidate != null && !candidate.isEmpty()) {
                return candidate;
            }
        }
        return "";
    }

    private static String[] kept() {
        try {
            List<String> lines = Files.readAllLines(file());
            return new String[] {
                lines.isEmpty() ? "" : lines.get(0), lines.size() < 2 ? "" : lines.get(1)
            };
        } catch (IOException notSignedIn) {
            return new String[] {"", ""};
        }
    }

    void save() {
        try {
            Path file = file();
            Files.createDirectories(file.getParent());
            Files.deleteIfExists(file);
            OwnersFile.make(file);
            Files.writeString(file, url + "\n" + token + "\n");
        } catch (IOException failed) {
            throw new Problem(
                    Problem.STOPS,
                    "The sign-in could not be kept in %s: %s."
                            .formatted(file(), failed.getMessage()));
        }
    }

    private static Path file() {
        Path usual = Path.of(System.getProperty("user.home"), ".config", "calmstep");
        return Path.of(first(System.getenv("CALMSTEP_CONFIG"), usual.toString()))
                .resolve("sign-in");
    }
}
