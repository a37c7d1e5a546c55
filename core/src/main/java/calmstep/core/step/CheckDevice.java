package calmstep.core.step;

import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import java.util.List;
import java.util.Optional;

/**
 * Is it still the device that the plan was made for? Saves unsaved changes where a person decided
 * so.
 */
final class CheckDevice implements Step {
    @Override
    public Looked look(Scene scene) {
        Reading reading = scene.read();
        Optional<Trouble> trouble = difference(scene, reading);
        if (trouble.isPresent()) {
            return new Looked.Impossible(trouble.get());
        }
        if (!reading.unsavedChanges()) {
            return new Looked.Shown(expected(scene), seen(reading), Evidence.of(reading));
        }
        if (scene.unit().saveFirst()) {
            return new Looked.ToDo(
                    "no unsaved changes",
                    "unsaved changes; the plan says that they are saved first");
        }
        return new Looked.Impossible(unsavedChanges());
    }

    private static Trouble unsavedChanges() {
        return new Trouble(
                "no unsaved changes",
                "changes that were not saved, and the plan does not say what to do with" + " them",
                "Save them on the device, or draft the plan again and acknowledge the"
                        + " caution with save-first.");
    }

    private static Optional<Trouble> difference(Scene scene, Reading reading) {
        UnitPlan unit = scene.unit();
        String again =
                "Somebody changed the device since the plan was worked out. Read it again and work"
                        + " the plan out again.";
        Optional<Trouble> anotherBox = SameBox.difference(unit, reading);
        if (anotherBox.isPresent()) {
            return anotherBox;
        }
        String component = scene.hop().component();
        String runs = runs(scene, reading);
        String named =
                scene.otherComponent()
                        .map(name -> "its %s runs ".formatted(name))
                        .orElse("it runs ");
        if (!scene.hop().from().equals(runs)) {
            return Optional.of(new Trouble(named + scene.hop().from(), named + runs, again));
        }
        Optional<Trouble> notWhole = Members.notWhole(scene, reading);
        if (notWhole.isPresent()) {
            return notWhole;
        }
        List<String> others =
                Members.notOn(scene.hop().from(), scene, reading).stream()
                        .map(
                                member ->
                                        "member %s: %s"
                                                .formatted(member.name(), member.runs(component)))
                        .toList();
        if (!others.isEmpty()) {
            return Optional.of(
                    new Trouble(
                            "all its members run " + scene.hop().from(),
                            String.join("; ", others),
                            again));
        }
        boolean first = scene.hopPlan().ordinal() == 1;
        if (first
                && !unit.configurationSha256().isEmpty()
                && !reading.configurationSha256().equals(unit.configurationSha256())) {
            return Optional.of(
                    new Trouble(
                            "the configuration as it was read at %s"
                                    .formatted(
                                            unit.readAt().map(Object::toString).orElse("no time")),
                            "another configuration on the device",
                            "Somebody changed the device since the plan was worked out. See what"
                                    + " changed (calmstep fleet changes %1$s), then take it over as it is (calmstep run take-over RUN %1$s --why …), or put it back and try again."
                                            .formatted(unit.device())));
        }
        return Optional.empty();
    }

    /**
     * Of boards, some may be there already: what counts is that one of them is where the hop
     * begins.
     */
    private static String runs(Scene scene, Reading reading) {
        String component = scene.hop().component();
        boolean oneIsThere =
                reading.boards(component).stream()
                        .anyMatch(board -> board.runs(component).equals(scene.hop().from()));
        return oneIsThere ? scene.hop().from() : reading.components().getOrDefault(component, "");
    }

    @Override
    public void act(Scene scene) {
        scene.door().session().save();
    }

    @Override
    public Proof prove(Scene scene) {
        Reading reading = scene.read();
        return reading.unsavedChanges()
                ? new Proof.Unproven(
                        new Trouble(
                                "no unsaved changes after saving",
                                "the device still reports unsaved changes",
                                "Save on the device by hand and look at what it answers."))
                : new Proof.Proven(
                        expected(scene) + "; changes saved",
                        seen(reading) + "; changes saved",
                        Evidence.of(reading));
    }

    private static String expected(Scene scene) {
        return "runs %s, configuration as planned, nothing unsaved".formatted(scene.hop().from());
    }

    private static String seen(Reading reading) {
        String members =
                reading.members().isEmpty()
                        ? ""
                        : "%s members in sync, ".formatted(reading.members().size());
        return members
                + "runs %s from %s, next %s, fallback %s"
                        .formatted(
                                reading.system(),
                                reading.boot().running(),
                                reading.boot().next(),
                                reading.boot().fallback().isEmpty()
                                        ? "none"
                                        : reading.boot().fallback());
    }
}
