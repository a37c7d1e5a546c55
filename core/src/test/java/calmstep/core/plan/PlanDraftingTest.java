package calmstep.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.CatalogueText;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.StoredFile;
import calmstep.core.step.StepName;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class PlanDraftingTest {
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
                            assertThat(unit.hop(2).ahead())
                                    .as("there is room for both images before the gate")
                                    .isTrue();
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

    /** Boards that a release brings along take the second restart. */
    @Test
    void aMoveWithTwoRestartsIsCarriedOutAndItsVentureIsSaid() {
        Router other = new Router();
        other.release = "2.8.2";
        Draft draft = other.draft("3.0.0");
        assertThat(other.findings("3.0.0"))
                .contains(
                        "caution rt/other-line-3.0.0 [accept, leave-out]",
                        "caution rt/not-general-3.0.0 [accept, leave-out]")
                .noneMatch(f -> f.startsWith("stop rt/not-yet"));
        assertThat(draft.units().getFirst().hop(1).steps()).contains(StepName.SECOND_RESTART);
    }

    @Test
    void aWipeIsAStopWhereNothingCanBePutBackElseACautionThatSaysWhatDoesNotComeBack()
            throws Exception {
        Router wiped = new Router();
        wiped.catalogue =
                Optional.of(
                        osmerWith(
                                "dark: 4 min, configuration: kept",
                                "dark: 4 min, configuration: wiped"));
        assertThat(wiped.findings("2.8.2"))
                .contains("stop rt/not-yet-2.6.3 [leave-out]", "stop rt/not-yet-2.8.2 [leave-out]");
        wiped.can =
                new Abilities(
                        Set.of(),
                        false,
                        false,
                        true,
                        false,
                        false,
                        false,
                        false,
                        List.of("its keys"));
        assertThat(wiped.draft("2.8.2").findings())
                .filteredOn(f -> f.key().equals("rt/wipes-2.6.3"))
                .singleElement()
                .satisfies(
                        f ->
                                assertThat(f.fact())
                                        .startsWith(
                                                "The move of rt to 2.6.3 wipes its configuration.")
                                        .endsWith("what does not come back: its keys."));
    }

    @Test
    void whoStandsInForOthersIsDrainedBeforeItRestartsAndNobodyElse() {
        Router router = new Router();
        router.can =
                new Abilities(Set.of(), false, false, true, false, false, false, true, List.of());
        Set<StepName> draining = Set.of(StepName.DRAIN, StepName.UN_DRAIN);
        assertThat(router.draft("recommended").units().getFirst().hop(1).steps())
                .as("nobody could take its traffic over")
                .doesNotContainAnyElementsOf(draining);
        router.redundancy = Set.of("quay-pair");
        assertThat(router.draft("recommended").units().getFirst().hops())
                .allSatisfy(
                        hop ->
                                assertThat(hop.steps())
                                        .containsSubsequence(
                                                StepName.CHOOSE_BOOT,
                                                StepName.DRAIN,
                                                StepName.RESTART,
                                                StepName.PROVE,
                                                StepName.UN_DRAIN)
                                        .doesNotContain(StepName.RESTART_STANDBYS));
        router.can = Abilities.PLAIN;
        assertThat(router.draft("recommended").units().getFirst().hop(1).steps())
                .as("its family cannot")
                .doesNotContainAnyElementsOf(draining);
    }

    private static Catalogue osmerWith(String text, String other) throws Exception {
        String all = Files.readString(Path.of("../demo/catalogue/osmer-r6.yaml"));
        assertThat(all).contains(text);
        return CatalogueText.read("c", all.replace(text, other));
    }

    /** The box says C, the inventory B: the image of the one spoils the other. */
    @Test
    void theDevicesOwnWordGoesBeforeTheInventorysAndTheContradictionIsAStop() {
        Router router = new Router();
        router.revision = "B";
        Draft draft = router.draft("2.8.2");
        assertThat(draft.findings())
                .filteredOn(f -> f.key().equals("rt/identity"))
                .singleElement()
                .satisfies(
                        f -> {
                            assertThat(f.severity()).isEqualTo(Severity.STOP);
                            assertThat(f.fact())
                                    .contains("revision B is written, revision C is shown");
                            assertThat(f.remedy()).contains("calmstep fleet as-read rt");
                        });
        assertThat(draft.units().getFirst().hardware().revision()).isEqualTo("C");
        assertThat(draft.units().getFirst().hop(2).hop().image().fileName())
                .isEqualTo("osmer-r6c-2.8.2.img");
    }

    @Test
    void eachWordOfADeviceAboutItselfThatIsNotTheInventorysIsAStop() {
        for (Identity shown :
                List.of(
                        new Identity("rt", "R6-2", "C", "S1"),
                        new Identity("rt", "R6-4", "C", "S9"),
                        new Identity("rt", "R6-4", "C", "S1", "", "harbour-mobile", Set.of()))) {
            Router router = new Router();
            router.identity = shown;
            assertThat(router.findings("2.8.2"))
                    .as(shown.toString())
                    .contains("stop rt/identity [leave-out]");
        }
        Router silent = new Router();
        silent.identity = new Identity("rt", "", "", "");
        assertThat(silent.findings("2.8.2"))
                .as("says nothing")
                .noneMatch(f -> f.contains("identity"));
    }

    @Test
    void goingDownIntoAnAdvisoryIsSaidWithTheSentenceOfTheAdvisory() {
        Router router = new Router();
        router.release = "2.8.2";
        router.next = "osmer-r6c-2.4.0.img";
        assertThat(router.findings("2.6.3"))
                .contains(
                        "caution rt/goes-down-2.6.3 [accept, leave-out]",
                        "caution rt/exposed-NF-26-04-2.6.3 [accept, leave-out]",
                        "note rt/newer-recommended-2.8.2 []");
        assertThat(router.draft("2.6.3").findings())
                .anyMatch(f -> f.fact().contains("Anyone who reaches a link can draw the traffic"));
        assertThat(new Router().findings("2.7.1"))
                .contains(
                        "caution rt/not-general-2.7.1 [accept, leave-out]",
                        "note rt/still-exposed-NF-26-04-2.7.1 []");
    }

    /** A maker may mark what it is only trying out. */
    @Test
    void theRecommendedReleaseIsNeverAnEarlyOne() throws Exception {
        Router router = new Router();
        router.catalogue =
                Optional.of(
                        osmerWith(
                                "    date: 2026-11-02\n",
                                "    date: 2026-11-02\n    recommended: true\n"));
        assertThat(router.draft("recommended").units().getFirst().to()).isEqualTo("2.8.2");
    }

    @Test
    void aCostThatTheCatalogueDoesNotGiveIsCalledAGuess() throws Exception {
        Router router = new Router();
        String all = Files.readString(Path.of("../demo/catalogue/osmer-r6.yaml"));
        router.catalogue =
                Optional.of(
                        CatalogueText.read(
                                "c",
                                all.replaceFirst("(?s)effects:.*?advisories:", "advisories:")));
        assertThat(router.draft("2.6.3").findings())
                .anyMatch(
                        f ->
                                f.fact()
                                        .contains(
                                                "one restart and 5 min without service are a"
                                                        + " guess"));
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
        router.readAt = Router.NOW.minus(Duration.ofDays(3));
        assertThat(router.draft("2.8.2").findings())
                .anyMatch(
                        f ->
                                f.severity() == Severity.CAUTION
                                        && f.fact().equals("rt was read 3 days ago."));
        router.read = false;
        assertThat(router.findings("2.8.2")).containsExactly("stop rt/never-read [leave-out]");
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
                        "stop rt/no-secret [leave-out]",
                        "stop rt/not-on-shelf-osmer-r6c-2.6.3.img [leave-out]",
                        "stop rt/not-on-shelf-osmer-r6c-2.8.2.img [leave-out]",
                        "stop rt/short-of-room-osmer-r6c-2.6.3.img [leave-out]");
        router.catalogue = Optional.empty();
        assertThat(router.findings("2.8.2"))
                .containsExactly(
                        "stop rt/no-catalogue [leave-out]", "stop rt/no-secret [leave-out]");
    }

    private static Router fullRouter() {
        Router router = new Router();
        router.free = 5_000_000;
        router.files =
                List.of(
                        new StoredFile("osmer-r6c-2.1.4.img", 7_864_320),
                        new StoredFile("osmer-r6c-2.4.0.img", 8_912_896),
                        new StoredFile("notes.txt", 9_000_000));
        return router;
    }

    @Test
    void saysWhichOldImagesWillGo() {
        Router router = fullRouter();
        assertThat(router.draft("2.8.2").findings())
                .anyMatch(
                        f ->
                                f.fact()
                                        .equals(
                                                "Old images are removed from rt to make room:"
                                                        + " osmer-r6c-2.1.4.img."));
    }

    /** The first hop has room, the second none: the file that is in its way is named. */
    @Test
    void roomIsWorkedOutAlongTheWholePathAndAPersonMayGiveAFileAway() {
        Router router = fullRouter();
        Draft draft = router.draft("2.8.2");
        assertThat(draft.findings())
                .filteredOn(f -> f.key().equals("rt/in-the-way-osmer-r6c-2.8.2.img"))
                .singleElement()
                .satisfies(
                        f -> {
                            assertThat(f.choices())
                                    .containsExactly(Choice.MAY_GO, Choice.LEAVE_OUT);
                            assertThat(f.fact())
                                    .isEqualTo(
                                            "osmer-r6c-2.8.2.img, which takes rt to 2.8.2, fits"
                                                + " only if files go that the catalogue does not"
                                                + " know: notes.txt (9,000,000 bytes).");
                        });
        assertThat(draft.units().getFirst().knownImages()).doesNotContain("notes.txt");
        assertThat(draft.units().getFirst().withMayGo().knownImages()).contains("notes.txt");
        router.files =
                List.of(
                        new StoredFile("osmer-r6c-2.4.0.img", 8_912_896),
                        new StoredFile("notes.txt", 9_000));
        router.free = 11_000_000;
        assertThat(router.draft("2.8.2").findings())
                .filteredOn(f -> f.key().equals("rt/short-of-room-osmer-r6c-2.8.2.img"))
                .singleElement()
                .satisfies(f -> assertThat(f.fact()).contains("notes.txt (9,000 bytes)"));
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
        assertThat(new Router().findings("2.8")).containsExactly("stop rt/no-target [leave-out]");
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
        router.readAt = Router.NOW.minus(Duration.ofDays(3));
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
