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

    // No answer, and a path that gets nowhere, are two answers.
    @SuppressWarnings("OptionalMapToOptional")
    private Optional<Optional<String>> endsAt(String today, int days, String runs) {
        PathBook book = new PathBook(Preference.FEWEST_RESTARTS, LocalDate.parse(today));
        Map<String, String> components = Components.parse(runs);
        Device device =
                new Device(
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
}
