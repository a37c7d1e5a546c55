package calmstep.core.wave;

/** A limit that can keep a part from being placed. */
public sealed interface Limit {
    record OverAll(int most) implements Limit {}

    record OfSite(String site, int most) implements Limit {}

    record OfFamily(String family, int most) implements Limit {}

    record SitesANight(String kind, int most) implements Limit {}

    default String sentence() {
        return switch (this) {
            case OverAll(int most) -> "no more than %s units are in work at once".formatted(most);
            case OfSite(String site, int most) ->
                    "no more than %s units at %s are in work at once".formatted(most, site);
            case OfFamily(String family, int most) ->
                    "no more than %s units of %s are in work at once".formatted(most, family);
            case SitesANight(String kind, int most) ->
                    "no more than %s sites of the kind %s in one night".formatted(most, kind);
        };
    }
}
