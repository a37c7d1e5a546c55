package calmstep.core.catalogue;

import java.util.ArrayList;
import java.util.List;

/**
 * The hardware that an image or a rule speaks of. An empty list stands for "any", except for
 * brands: an image without a brand is for unbranded units only, since an operator's unit with the
 * wrong image can become unusable.
 *
 * @param features the feature packages that an image holds: exactly those that are installed. A
 *     device with another one would lose it; what is not licensed there does not start on some
 *     hardware
 */
public record Variant(
        List<String> models,
        List<String> revisions,
        List<String> regions,
        List<String> brands,
        List<String> features) {
    public static final Variant ANY =
            new Variant(List.of(), List.of(), List.of(), List.of(), List.of());

    public Variant {
        models = List.copyOf(models);
        revisions = List.copyOf(revisions);
        regions = List.copyOf(regions);
        brands = List.copyOf(brands);
        features = List.copyOf(features);
    }

    /** Whether an image of this variant is for this hardware. */
    public boolean fits(Hardware hardware) {
        return refusals(hardware).isEmpty();
    }

    /** Why an image of this variant is not for this hardware; empty when it fits. */
    public List<String> refusals(Hardware hardware) {
        List<String> reasons = new ArrayList<>();
        compare("model", models, hardware.model(), reasons);
        compare("revision", revisions, hardware.revision(), reasons);
        compare("region", regions, hardware.region(), reasons);
        if (brands.isEmpty() && !hardware.brand().isEmpty()) {
            reasons.add(
                    "it is published for unbranded units only, this one carries the brand "
                            + hardware.brand());
        } else {
            compare("brand", brands, hardware.brand(), reasons);
        }
        compareFeatures(hardware, reasons);
        return reasons;
    }

    private void compareFeatures(Hardware hardware, List<String> reasons) {
        if (!features.isEmpty()) {
            hardware.features().stream()
                    .filter(f -> !features.contains(f))
                    .forEach(
                            f ->
                                    reasons.add(
                                            "it holds %s, and the feature %s is installed here and would be lost"
                                                    .formatted(String.join(" and ", features), f)));
            features.stream()
                    .filter(f -> !hardware.features().contains(f))
                    .forEach(
                            f ->
                                    reasons.add(
                                            "it holds %s, and the feature %s is not installed here"
                                                    .formatted(String.join(" and ", features), f)));
        }
    }

    /**
     * Whether a rule that speaks of this variant speaks of this hardware; a brand counts only when
     * the rule names one.
     */
    public boolean covers(Hardware hardware) {
        return (models.isEmpty() || models.contains(hardware.model()))
                && (revisions.isEmpty() || revisions.contains(hardware.revision()))
                && (regions.isEmpty() || regions.contains(hardware.region()))
                && (brands.isEmpty() || brands.contains(hardware.brand()))
                && (features.isEmpty()
                        || features.stream().anyMatch(hardware.features()::contains));
    }

    private static void compare(
            String what, List<String> allowed, String seen, List<String> reasons) {
        if (!allowed.isEmpty() && !allowed.contains(seen)) {
            reasons.add(
                    "it is for %s %s, this one is %s"
                            .formatted(
                                    what,
                                    String.join(" or ", allowed),
                                    seen.isEmpty() ? "not known" : what + " " + seen));
        }
    }
}
