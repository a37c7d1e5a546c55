package calmstep.service.problems;

import java.util.List;
import java.util.function.Supplier;
import org.springframework.http.HttpStatus;

/** The call cannot be done; says why in words for a person. */
public final class Refusal extends RuntimeException {
    private final HttpStatus status;
    private final transient List<String> details;

    private Refusal(HttpStatus status, String sentence, List<String> details) {
        super(sentence);
        this.status = status;
        this.details = List.copyOf(details);
    }

    public static Refusal notFound(String what, String name) {
        return new Refusal(
                HttpStatus.NOT_FOUND,
                "There is no %s \"%s\" here.".formatted(what, name),
                List.of());
    }

    /** The call is not possible as things stand. */
    public static Refusal conflict(String sentence) {
        return new Refusal(HttpStatus.CONFLICT, sentence, List.of());
    }

    /** The call itself is wrong. */
    public static Refusal wrong(String sentence) {
        return new Refusal(HttpStatus.BAD_REQUEST, sentence, List.of());
    }

    /**
     * What a text of the call means.
     *
     * @throws Refusal in the words of the one who could not read it
     */
    public static <T> T reading(Supplier<T> parsed) {
        try {
            return parsed.get();
        } catch (IllegalArgumentException unreadable) {
            throw wrong(String.valueOf(unreadable.getMessage()));
        }
    }

    public static Refusal notSignedIn(String sentence) {
        return new Refusal(HttpStatus.UNAUTHORIZED, sentence, List.of());
    }

    public static Refusal tooMany(String sentence) {
        return new Refusal(HttpStatus.TOO_MANY_REQUESTS, sentence, List.of());
    }

    /** What was handed in is refused; one line for each thing that is wrong. */
    public static Refusal unusable(String sentence, List<String> details) {
        return new Refusal(HttpStatus.UNPROCESSABLE_CONTENT, sentence, details);
    }

    HttpStatus status() {
        return status;
    }

    public List<String> details() {
        return details;
    }
}
