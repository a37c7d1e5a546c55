package calmstep.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Components;
import calmstep.core.fleet.Device;
import calmstep.core.path.PathAnswer;
import calmstep.core.path.Preference;
import calmstep.core.version.Version;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

class PathBookTest {
    private final Catalogue osmer = osmer();

    private static Catalogue osmer() {
        try {
            return CatalogueText.read(
                    "c.yaml", Files.readString(Path.of("../demo/catalogue/osmer-r6.yaml")));
        } catch (java.io.IOException gone) {
            throw new IllegalStateException(gone);
        }
    }

    private static Device device(Map<String, String> components) {
        return new Device(
                "rt",
                "osmer-r6",
                new Hardware("R6-4", "C", "", ""),
                "",
                "",
                "",
                "192.0.2.1",
                22,
                0,
                "",
                true,
                components,
                "");
    }

    // No answer, and a path that gets nowhere, are two answers.
    @SuppressWarnings("OptionalMapToOptional")
    private Optional<Optional<String>> endsAt(String today, int days, String runs) {
        PathBook book = new PathBook(Preference.FEWEST_RESTARTS, LocalDate.parse(today));
        Map<String, String> components = Components.parse(runs);
        Device device = device(components);
        PathBook.Entry entry = book.look(device, components, osmer, Target.parse("2.8.2"));
        assertThat(entry.answer()).get().isInstanceOf(PathAnswer.Found.class);
        return book.byOlderOnes(device, components, osmer, entry, days)
                .map(older -> older.endsAt().map(Version::text));
    }

    /** By hand, from the dates in the catalogue. */
    @Test
    void saysHowFarAPathGetsByOlderReleasesAlone() {
        LocalDate wanted =
                osmer.find(Catalogue.SYSTEM, osmer.systemScheme().parse("2.8.2"))
                        .orElseThrow()
                        .date();
        LocalDate stone =
                osmer.find(Catalogue.SYSTEM, osmer.systemScheme().parse("2.6.3"))
                        .orElseThrow()
                        .date();
        assertThat(endsAt(wanted.plusDays(90).toString(), 90, "2.4.0"))
                .as("all of it is old enough")
                .isEmpty();
        assertThat(endsAt(wanted.plusDays(89).toString(), 90, "2.4.0"))
                .as("the wanted release is a day too young")
                .get()
                .satisfies(end -> assertThat(end).isPresent().get().isNotEqualTo("2.8.2"));
        assertThat(endsAt(stone.plusDays(1).toString(), 90, "2.6.0").orElseThrow())
                .as("nothing above 2.6.0 is old enough")
                .isEmpty();
    }

    @Test
    void readsWhatADeviceRunsFromOneLine() {
        assertThat(Components.parse("2.4.0")).isEqualTo(Map.of("system", "2.4.0"));
        assertThat(Components.parse(" system:2.4.0, board:1.12 "))
                .isEqualTo(Map.of("system", "2.4.0", "board", "1.12"));
        assertThat(Components.parse("")).isEmpty();
    }

    /**
     * The fault is in the boards' firmware, which 2.8.2 brings: releases of the system are no
     * measure of it, and whatever leaves the boards as they are cures nothing.
     */
    @Test
    void clearsAnAdvisoryOnAnotherComponentByWhatMovesThatComponent() throws Exception {
        assertThat(cured("< 1.5", "system:2.6.3, board:1.2")).isEqualTo("2.8.2 by 2.8.2");
        assertThat(cured("< 1.5", "system:2.4.0, board:1.2")).isEqualTo("2.8.2 by 2.6.3, 2.8.2");
        assertThat(cured("< 1.5", "system:2.6.3, board:1.5")).isEqualTo("2.6.3 runs");
        assertThat(cured("< 1.7", "system:2.6.3, board:1.2")).as("nothing cures it").isEmpty();
        assertThat(cured("< 1.5", "system:2.8.2, board:1.2")).as("none is above").isEmpty();
    }

    private static String cured(String affects, String runs) throws Exception {
        Catalogue catalogue =
                CatalogueText.read(
                        "c.yaml",
                        Files.readString(Path.of("../demo/catalogue/osmer-r6.yaml"))
                                .replace(
                                        "releases:\n",
                                        "releases:\n"
                                                + "  - { component: board, version: 1.5, date:"
                                                + " 2025-01-01 }\n"
                                                + "  - { component: board, version: 1.7, date:"
                                                + " 2025-01-01 }\n")
                                .replace(
                                        "  - version: 2.8.2\n",
                                        "  - version: 2.8.2\n    brings: { board: 1.5 }\n")
                                .replace(
                                        "advisories:\n",
                                        "advisories:\n  - { id: B-1, title: T, severity: low,"
                                                + " published: 2026-10-05, component: board,"
                                                + " affects: '%s', says: it is bad }\n"
                                                        .formatted(affects)));
        Map<String, String> components = Components.parse(runs);
        PathBook.Entry entry =
                new PathBook(Preference.FEWEST_RESTARTS, LocalDate.of(2026, 12, 1))
                        .look(
                                device(components),
                                components,
                                catalogue,
                                Target.parse("clears:B-1"));
        return entry.answer()
                .map(
                        answer ->
                                switch (answer) {
                                    case PathAnswer.Found found ->
                                            entry.wanted().orElseThrow().text()
                                                    + " by "
                                                    + found.best().hops().stream()
                                                            .map(hop -> hop.to())
                                                            .collect(Collectors.joining(", "));
                                    case PathAnswer.AlreadyThere(String running) ->
                                            running + " runs";
                                    case PathAnswer.Refused refused -> refused.toString();
                                })
                .orElse("");
    }
}
