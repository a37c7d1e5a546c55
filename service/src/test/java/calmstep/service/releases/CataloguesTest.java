package calmstep.service.releases;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.text.RejectedText;
import calmstep.core.version.VersionScheme;
import calmstep.service.RunningService;
import org.junit.jupiter.api.Test;

class CataloguesTest {
    private final Catalogues catalogues = RunningService.bean(Catalogues.class);
    private final String family = RunningService.name("family");

    private String text(String releases) {
        return "catalogue: 1\nfamily: %s\nissued: 2026-01-01\ncomponents: { system: { fields: 2 } }\nreleases:\n%s"
                .formatted(family, releases);
    }

    @Test
    void theNewestImportCountsAndTheOlderOneStaysInTheDatabase() {
        catalogues.take("c.yaml", text("  - { version: 1.0, date: 2025-01-01 }\n"), "mara");
        catalogues.take(
                "c.yaml",
                text(
                        """
                          - { version: 1.0, date: 2025-01-01 }
                          - { version: 1.1, date: 2025-02-01 }
                        """),
                "jon");
        assertThat(catalogues.find(family))
                .hasValueSatisfying(c -> assertThat(c.releases()).hasSize(2));
        assertThat(catalogues.all()).filteredOn(c -> c.family().equals(family)).hasSize(1);
        assertThat(
                        RunningService.sql()
                                .queryForList(
                                        "select imported_by from catalogue where family = ? order"
                                                + " by id",
                                        String.class,
                                        family))
                .containsExactly("mara", "jon");
    }

    @Test
    void aTextThatIsRefusedChangesNothing() {
        catalogues.take("c.yaml", text("  - { version: 1.0, date: 2025-01-01 }\n"), "mara");
        assertThatThrownBy(
                        () ->
                                catalogues.take(
                                        "c.yaml",
                                        text(
                                                "  - { version: one, date: yesterday, colour: red"
                                                        + " }\n"),
                                        "jon"))
                .isInstanceOfSatisfying(
                        RejectedText.class,
                        rejected ->
                                assertThat(rejected.complaints()).hasSizeGreaterThanOrEqualTo(3));
        assertThat(catalogues.find(family))
                .hasValueSatisfying(c -> assertThat(c.releases()).hasSize(1));
    }

    @Test
    void aFamilyWithADialectAloneIsKnownWithVersionsOfAnyKind() {
        catalogues.take("c.yaml", text("  - { version: 1.0, date: 2025-01-01 }\n"), "mara");
        assertThat(catalogues.families()).containsKeys("osmer-r6", family);
        assertThat(catalogues.families().get(family))
                .isEqualTo(java.util.Map.of("system", VersionScheme.dotted(2)));
        assertThat(catalogues.find("no-such-family")).isEmpty();
        assertThat(catalogues.findImage("osmer-r6c-2.8.2.img"))
                .hasValueSatisfying(
                        p ->
                                assertThat(p.published().release().version().text())
                                        .isEqualTo("2.8.2"));
        assertThat(catalogues.findImage("../osmer-r6c-2.8.2.img")).isEmpty();
    }
}
