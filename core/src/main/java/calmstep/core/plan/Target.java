package calmstep.core.plan;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Release;
import calmstep.core.version.Version;
import java.time.LocalDate;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What is wanted: a policy, or a release by its version. No policy but a release by name comes to
 * an early, a trial or a withdrawn one.
 */
public sealed interface Target {
    Pattern AGED = Pattern.compile("aged-(\\d{1,4})");
    String CLEARS = "clears:";

    /** How policies are written, for messages. */
    String POLICIES = "recommended, newest-general, one-behind, aged-90 (days), clears:ADVISORY";

    /** What the maker recommends. */
    record Recommended() implements Target {}

    record NewestGeneral() implements Target {}

    /** The general release before the newest one. */
    record OneBehind() implements Target {}

    /** The newest general release that is at least so many days old. */
    record Aged(int days) implements Target {}

    /** The smallest move out of an advisory; which release that is depends on the device. */
    record Clears(String advisory) implements Target {}

    record Exactly(String version) implements Target {}

    static Target parse(String text) {
        Matcher aged = AGED.matcher(text);
        if (aged.matches()) {
            return new Aged(Integer.parseInt(aged.group(1)));
        }
        if (text.startsWith(CLEARS)) {
            return new Clears(text.substring(CLEARS.length()));
        }
        return switch (text) {
            case "recommended" -> new Recommended();
            case "newest-general" -> new NewestGeneral();
            case "one-behind" -> new OneBehind();
            default -> new Exactly(text);
        };
    }

    /**
     * The wanted version in this family; empty when the catalogue has none for the policy, or when
     * it depends on the device.
     *
     * @throws IllegalArgumentException when the text is not a version of the family's scheme
     */
    default Optional<Version> in(Catalogue catalogue, LocalDate today) {
        return switch (this) {
            case Recommended() -> catalogue.recommended().map(Release::version);
            case NewestGeneral() -> catalogue.general().stream().findFirst().map(Release::version);
            case OneBehind() ->
                    catalogue.general().stream().skip(1).findFirst().map(Release::version);
            case Aged(int days) ->
                    catalogue.general().stream()
                            .filter(r -> !r.date().isAfter(today.minusDays(days)))
                            .findFirst()
                            .map(Release::version);
            case Clears _ -> Optional.empty();
            case Exactly(String version) -> Optional.of(catalogue.systemScheme().parse(version));
        };
    }

    default String words() {
        return switch (this) {
            case Recommended() -> "recommended";
            case NewestGeneral() -> "newest-general";
            case OneBehind() -> "one-behind";
            case Aged(int days) -> "aged-" + days;
            case Clears(String advisory) -> CLEARS + advisory;
            case Exactly(String version) -> version;
        };
    }
}
