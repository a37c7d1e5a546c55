package calmstep.core.plan;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Release;
import calmstep.core.version.Version;
import java.util.Optional;

/** What is wanted: a policy, or a release by its version. */
public sealed interface Target {
    record Recommended() implements Target {}

    record NewestGeneral() implements Target {}

    record Exactly(String version) implements Target {}

    static Target parse(String text) {
        return switch (text) {
            case "recommended" -> new Recommended();
            case "newest-general" -> new NewestGeneral();
            default -> new Exactly(text);
        };
    }

    /**
     * The wanted version in this family; empty when the catalogue has none for the policy.
     *
     * @throws IllegalArgumentException when the text is not a version of the family's scheme
     */
    default Optional<Version> in(Catalogue catalogue) {
        return switch (this) {
            case Recommended() -> catalogue.recommended().map(Release::version);
            case NewestGeneral() -> catalogue.newestGeneral().map(Release::version);
            case Exactly(String version) -> Optional.of(catalogue.systemScheme().parse(version));
        };
    }

    default String words() {
        return switch (this) {
            case Recommended() -> "recommended";
            case NewestGeneral() -> "newest-general";
            case Exactly(String version) -> version;
        };
    }
}
