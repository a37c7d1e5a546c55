package calmstep.core.catalogue;

import java.util.Set;
import java.util.TreeSet;

/**
 * What a device is, as far as images are made for it. Empty text where it is not known or does not
 * apply.
 *
 * @param region sales region
 * @param brand operator that the unit was made for; empty for an unbranded one
 * @param features feature packages that are installed; an image that lacks one would lose it
 */
public record Hardware(
        String model, String revision, String region, String brand, Set<String> features) {
    public Hardware {
        features = java.util.Collections.unmodifiableSet(new TreeSet<>(features));
    }

    /** Nothing is known of it. */
    public static final Hardware UNKNOWN = new Hardware("", "", "", "");

    /** This, where it is known, else what the other one is. */
    public Hardware or(Hardware other) {
        return new Hardware(
                either(model, other.model),
                either(revision, other.revision),
                either(region, other.region),
                either(brand, other.brand),
                features.isEmpty() ? other.features : features);
    }

    private static String either(String one, String other) {
        return one.isEmpty() ? other : one;
    }

    public Hardware(String model, String revision, String region, String brand) {
        this(model, revision, region, brand, Set.of());
    }
}
