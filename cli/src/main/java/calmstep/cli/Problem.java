package calmstep.cli;

import java.util.List;

/** Ends a command with a message and an exit code. */
final class Problem extends RuntimeException {
    static final int STOPS = 1;
    static final int WRONG_CALL = 2;
    static final int NOT_ALLOWED = 3;
    static final int NOT_REACHABLE = 4;

    private final int exitCode;
    private final transient List<String> details;

    Problem(int exitCode, String message, List<String> details) {
        super(message);
        this.exitCode = exitCode;
        this.details = List.copyOf(details);
    }

    Problem(int exitCode, String message) {
        this(exitCode, message, List.of());
    }

    int exitCode() {
        return exitCode;
    }

    List<String> details() {
        return details;
    }
}
