package calmstep.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.catalogue.Hardware;
import calmstep.core.fleet.Device;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.fleet.Reading.Volume;
import calmstep.core.path.Preference;
import calmstep.core.step.StepName;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

class PlanDraftingTest {
    private static final Instant NOW = Instant.parse("2026-11-23T02:00:00Z");
    private static final Set<String> SHELF = Set.of("osmer-r6c-2.6.3.img", "osmer-r6c-2.8.2.img");
    private static final Catalogue OSMER = osmer();

    private static Catalogue osmer() {
        try {
            return CatalogueText.read(
                    "c.yaml", Files.readString(Path.of("../demo/catalogue/osmer-r6.yaml")));
        } catch (java.io.IOException gone) {
            throw new IllegalStateException(gone);
        }
    }

    /** A device that has nothing to say against it; each test changes one thing. */
    private static final class Router {
        String revision = "C";
        boolean entitled = true;
        String release = "2.4.0";
        String next = "osmer-r6c-2.4.0.img";
        boolean saved = true;
        boolean unsaved;
        long free = 40_000_000;
        List<StoredFile> files = List.of(new StoredFile("osmer-r6c-2.4.0.img", 8_912_896));
        Instant readAt = NOW.minusSeconds(60);
        Set<String> shelf = SHELF;
        boolean secret = true;
        boolean read = true;
        Optional<Catalogue> catalogue = Optional.of(OSMER);

        Draft draft(String target) {
            Device device =
                    new Device(
                            "rt",
                            "osmer-r6",
                            new Hardware("R6-4", revision, "", ""),
                            "S1",
                            "dunmere",
                            "",
                            "192.0.2.1",
                            22,
                            0,
                            "steward",
                            entitled,
                            Map.of(),
                            "the quay");
            Reading reading =
                    new Reading(
                            readAt,
                            new Identity("rt", "R6-4", revision, "S1"),
                            new TreeMap<>(Map.of("system", release)),
                            new BootChoice("osmer-r6c-2.4.0.img", next, "", saved),
                            "start 1",
                            List.of(new Volume("flash", 64_000_000, free, files)),
                            unsaved,
                            "digest",
                            List.of());
            return PlanDrafting.draft(
                    Target.parse(target),
                    Preference.FEWEST_RESTARTS,
                    List.of(
                            new Subject(
                                    device,
                                    read ? Optional.of(reading) : Optional.empty(),
                                    catalogue,
                                    shelf,
                                    secret,
                                    Abilities.PLAIN)),
                    NOW);
        }

        List<String> findings(String target) {
            return draft(target).findings().stream()
                    .map(f -> "%s %s %s".formatted(f.severity(), f.key(), f.choices()))
                    .toList();
        }
    }

    @Test
    void aHealthyRouterGetsTwoHopsWithTheStepsThatEachNeeds() {
        Draft draft = new Router().draft("recommended");
        assertThat(draft.units())
                .singleElement()
                .satisfies(
                        unit -> {
                            assertThat(unit.from()).isEqualTo("2.4.0");
                            assertThat(unit.to()).isEqualTo("2.8.2");
                            assertThat(unit.restarts()).isEqualTo(2);
                            assertThat(unit.dark()).isEqualTo(Duration.ofMinutes(8));
                            assertThat(unit.hop(1).steps())
                                    .doesNotContain(StepName.SOAK, StepName.TIDY)
                                    .startsWith(StepName.CHECK, StepName.BACK_UP);
                            assertThat(unit.hop(2).steps())
                                    .endsWith(
                                            StepName.PROVE,
                                            StepName.UN_QUIET,
                                            StepName.SOAK,
                                            StepName.TIDY);
                        });
        assertThat(draft.findings()).extracting(Finding::severity).containsOnly(Severity.NOTE);
        assertThat(draft.findings())
                .anyMatch(
                        f ->
                                f.fact()
                                        .startsWith(
                                                "rt goes by way of 2.6.3: 2.8 takes over settings"
                                                        + " only from 2.6.3 or later"
                                                        + " (osmer/settings-28)"));
        assertThat(draft.findings())
                .anyMatch(
                        f ->
                                f.fact()
                                        .equals(
                                                "2.8.2 on rt: sign-in by short passwords is refused"
                                                        + " from this release on."));
    }

    @Test
    void unsavedChangesMustBeAcknowledgedWithAChoice() {
        Router router = new Router();
        router.unsaved = true;
        assertThat(router.findings("2.8.2"))
                .contains("caution rt/unsaved-changes [save-first, leave-out]");
    }

    @Test
    void aMoveThatNoRunCanCarryOutYetIsAStop() throws Exception {
        Router other = new Router();
        other.release = "2.8.2";
        assertThat(other.draft("3.0.0").findings())
                .filteredOn(f -> f.key().equals("rt/not-yet-3.0.0"))
                .singleElement()
                .satisfies(
                        f -> {
                            assertThat(f.severity()).isEqualTo(Severity.STOP);
                            assertThat(f.fact())
                                    .isEqualTo(
                                            "The move of rt to 3.0.0 cannot be carried out by a run"
                                                    + " yet: it takes 2 restarts.");
                        });
        Router wiped = new Router();
        wiped.catalogue =
                Optional.of(
                        CatalogueText.read(
                                "c",
                                java.nio.file.Files.readString(
                                                java.nio.file.Path.of(
                                                        "../demo/catalogue/osmer-r6.yaml"))
                                        .replace(
                                                "dark: 4 min, configuration: kept",
                                                "dark: 4 min, configuration: wiped")));
        assertThat(wiped.findings("2.8.2"))
                .contains("stop rt/not-yet-2.6.3 []", "stop rt/not-yet-2.8.2 []");
    }

    @Test
    void aDoubtfulBootChoiceIsACaution() {
        Router router = new Router();
        router.saved = false;
        assertThat(router.findings("2.8.2"))
                .contains("caution rt/choice-not-saved [accept, leave-out]");
        Router other = new Router();
        other.next = "osmer-r6c-2.2.1.img";
        assertThat(other.findings("2.8.2"))
                .contains("caution rt/next-is-not-running [accept, leave-out]");
    }

    @Test
    void anOldReadingIsACautionAndNoneIsAStop() {
        Router router = new Router();
        router.readAt = NOW.minus(Duration.ofDays(3));
        assertThat(router.draft("2.8.2").findings())
                .anyMatch(
                        f ->
                                f.severity() == Severity.CAUTION
                                        && f.fact().equals("rt was read 3 days ago."));
        router.read = false;
        assertThat(router.findings("2.8.2")).containsExactly("stop rt/never-read []");
        assertThat(router.draft("2.8.2").units()).isEmpty();
    }

    @Test
    void collectsEveryStopInsteadOfEndingAtTheFirst() {
        Router router = new Router();
        router.secret = false;
        router.shelf = Set.of();
        router.free = 1_000_000;
        assertThat(router.findings("2.8.2"))
                .contains(
                        "stop rt/no-secret []",
                        "stop rt/not-on-shelf-osmer-r6c-2.6.3.img []",
                        "stop rt/not-on-shelf-osmer-r6c-2.8.2.img []",
                        "stop rt/short-of-room-osmer-r6c-2.6.3.img []");
        router.catalogue = Optional.empty();
        assertThat(router.findings("2.8.2"))
                .containsExactly("stop rt/no-catalogue []", "stop rt/no-secret []");
    }

    @Test
    void saysWhichOldImagesWillGo() {
        Router router = new Router();
        router.free = 5_000_000;
        router.files =
                List.of(
                        new StoredFile("osmer-r6c-2.1.4.img", 7_864_320),
                        new StoredFile("osmer-r6c-2.4.0.img", 8_912_896),
                        new StoredFile("notes.txt", 9_000_000));
        assertThat(router.draft("2.8.2").findings())
                .anyMatch(
                        f ->
                                f.fact()
                                        .equals(
                                                "Old images are removed from rt to make room:"
                                                        + " osmer-r6c-2.1.4.img."));
    }

    @Test
    void saysPlainlyWhenThereIsNothingToDoAndWhyThereIsNoPath() {
        Router there = new Router();
        there.release = "2.8.2";
        assertThat(there.draft("recommended").findings())
                .singleElement()
                .satisfies(
                        f ->
                                assertThat(f.fact())
                                        .isEqualTo("rt runs 2.8.2 already; nothing to do."));
        Router barred = new Router();
        barred.entitled = false;
        assertThat(barred.draft("2.8.2").findings())
                .singleElement()
                .satisfies(
                        f -> {
                            assertThat(f.severity()).isEqualTo(Severity.STOP);
                            assertThat(f.fact())
                                    .contains("rt cannot reach 2.8.2")
                                    .contains("2.8 may be taken with support entitlement only")
                                    .contains("no support entitlement");
                            assertThat(f.remedy()).isEqualTo("It can reach 2.6.3 today.");
                        });
        Router unreadable = new Router();
        unreadable.release = "mystery";
        assertThat(unreadable.draft("2.8.2").findings())
                .singleElement()
                .satisfies(f -> assertThat(f.fact()).contains("says that it runs \"mystery\""));
        assertThat(new Router().findings("2.8")).containsExactly("stop rt/no-target []");
        assertThat(new Router().draft("2.8.9").findings())
                .singleElement()
                .satisfies(
                        f ->
                                assertThat(f.fact())
                                        .contains(
                                                "The release 2.8.9 is not in the catalogue; did you"
                                                        + " mean \"2.8.0\"?"));
    }

    @Test
    void theSameInputGivesTheSameDraft() {
        assertThat(new Router().draft("recommended")).isEqualTo(new Router().draft("recommended"));
    }

    @Test
    void twoDraftsDifferByWhatWouldBeDoneOtherwiseAndNotByAge() {
        Router router = new Router();
        Draft before = router.draft("2.8.2");
        router.readAt = NOW.minus(Duration.ofDays(3));
        assertThat(DraftChanges.between(before, router.draft("2.8.2"))).as("only older").isEmpty();

        router.release = "2.6.3";
        router.next = "osmer-r6c-2.4.0.img";
        router.unsaved = true;
        assertThat(DraftChanges.between(before, router.draft("2.8.2")))
                .containsExactly(
                        "rt goes 2.6.3 > 2.8.2 now, was to go 2.4.0 > 2.6.3 > 2.8.2",
                        "new caution: rt runs changes that were not saved; a restart would lose"
                                + " them.",
                        "no longer so: rt goes by way of 2.6.3: 2.8 takes over settings only from"
                                + " 2.6.3 or later (osmer/settings-28).");
        assertThat(DraftChanges.between(before, router.draft("2.6.3")))
                .anyMatch(
                        c ->
                                c.equals(
                                        "rt has nothing to do any more; it was to go 2.4.0 > 2.6.3"
                                                + " > 2.8.2"));
        assertThat(DraftChanges.between(router.draft("2.6.3"), before))
                .anyMatch(c -> c.equals("rt has something to do now: 2.4.0 > 2.6.3 > 2.8.2"));
    }

    /** A release that is withdrawn after the plan was made changes the plan. */
    @Test
    void aReleaseThatIsWithdrawnMakesAnotherDraft() throws Exception {
        Router router = new Router();
        Draft before = router.draft("recommended");
        String text = Files.readString(Path.of("../demo/catalogue/osmer-r6.yaml"));
        int at = text.indexOf("- version: 2.8.2");
        router.catalogue =
                Optional.of(
                        CatalogueText.read(
                                "c",
                                text.substring(0, at)
                                        + text.substring(at)
                                                .replaceFirst(
                                                        "channel: general", "channel: withdrawn")
                                                .replaceFirst("    recommended: true\n", "")));
        assertThat(DraftChanges.between(before, router.draft("recommended")))
                .anyMatch(c -> c.startsWith("rt "));
    }
}
