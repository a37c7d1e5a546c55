package calmstep.core.step;

import calmstep.core.catalogue.Hardware;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Discrepancy;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.PartShown;
import calmstep.core.step.UnitPlan.HopPlan;
import java.util.List;
import java.util.Optional;

/**
 * Meets the box that stands where a unit is stuck: the one that a person named, of the same make,
 * on a release from which the hop leads on. What it was configured with on the bench is kept, since
 * the configuration of the one that it replaces takes its place. The steps behind this one bring it
 * to where the hop leads.
 */
public final class MeetReplacement implements Step {
    @Override
    public Looked look(Scene scene) {
        Reading now = scene.door().session().read();
        return unfit(scene.unit(), scene.hopPlan(), scene.before(), now)
                .<Looked>map(Looked.Impossible::new)
                .orElseGet(
                        () ->
                                new Looked.ToDo(
                                        "serial number %s, to %s; what it is configured with now is kept"
                                                .formatted(scene.unit().serial(), scene.hop().to()),
                                        GoBack.shown(now)));
    }

    /**
     * Why a box cannot take the place of a unit within its hop.
     *
     * @param before what stood there when the hop began
     */
    public static Optional<Trouble> unfit(
            UnitPlan unit, HopPlan hop, Optional<Reading> before, Reading now) {
        Identity box = now.identity();
        if (!box.serial().equals(unit.serial())) {
            return Optional.of(
                    new Trouble(
                            "serial number " + unit.serial(),
                            "serial number " + box.serial(),
                            "Another box stands at this address. Say the serial number of the one"
                                    + " that is to stay, or put the right one there."));
        }
        List<Discrepancy> otherMake = Discrepancy.between(made(unit, before), "", now);
        if (!otherMake.isEmpty()) {
            return Optional.of(
                    new Trouble(
                            Discrepancy.written(otherMake),
                            Discrepancy.shown(otherMake),
                            "What was planned and proven is for the one that stood there. Set the"
                                    + " unit aside, correct the inventory, and plan this box anew;"
                                    + " the backup is kept."));
        }
        boolean leadsOn =
                now.system().equals(hop.hop().from()) || now.system().equals(hop.hop().to());
        return leadsOn
                ? Optional.empty()
                : Optional.of(
                        new Trouble(
                                "it runs %s or %s".formatted(hop.hop().from(), hop.hop().to()),
                                "it runs %s".formatted(now.system()),
                                "Bring it to %s by hand and try the step again; or set the unit aside, plan its way from %s anew, and put the backup back behind it."
                                        .formatted(hop.hop().from(), now.system())));
    }

    /**
     * Why a box cannot take the place of a member within a hop.
     *
     * @param was what stood there when the hop began; empty where nobody looked
     * @param serial as a person says it
     */
    public static Optional<Trouble> unfitMember(
            HopPlan hop, Optional<PartShown> was, String member, String serial, Reading now) {
        Optional<PartShown> shown = Members.find(member, now);
        String named = "member " + member;
        if (shown.filter(PartShown::isInSync).isEmpty()) {
            return Optional.of(
                    new Trouble(
                            named + " in sync with the others",
                            Members.shown(List.of(member), now),
                            "Wait until it has joined them. Where its release keeps it apart, bring"
                                    + " it to %s by hand first. Then say it again; nothing was changed."
                                            .formatted(hop.hop().from())));
        }
        Part box = shown.get().part();
        if (!box.serial().isEmpty() && !box.serial().equals(serial)) {
            return Optional.of(
                    new Trouble(
                            "%s with serial number %s".formatted(named, serial),
                            "serial number " + box.serial(),
                            "Another box stands there, or another member was meant. Nothing was"
                                    + " changed."));
        }
        if (was.filter(old -> old.part().serial().equals(serial)).isPresent()) {
            return Optional.of(
                    new Trouble(
                            "another box as " + named,
                            "the one that was there before, serial number " + serial,
                            "It is back in sync: try the step again."));
        }
        String model = was.map(old -> old.part().model()).orElse("");
        if (!model.isEmpty() && !box.model().isEmpty() && !model.equals(box.model())) {
            return Optional.of(
                    new Trouble(
                            "%s is a %s".formatted(named, model),
                            "it is a " + box.model(),
                            "What was planned and proven is for the one that stood there. Set the"
                                    + " unit aside, correct the inventory, and plan it anew."));
        }
        String runs = shown.get().runs(hop.hop().component());
        return runs.isEmpty() || runs.equals(hop.hop().from()) || runs.equals(hop.hop().to())
                ? Optional.empty()
                : Optional.of(
                        new Trouble(
                                "%s runs %s or %s"
                                        .formatted(named, hop.hop().from(), hop.hop().to()),
                                "it runs " + runs,
                                "Bring it to %s by hand, then say it again; nothing was changed."
                                        .formatted(hop.hop().from())));
    }

    /** What stood there when the hop began; where nobody looked, what was planned for. */
    private static Hardware made(UnitPlan unit, Optional<Reading> before) {
        return before.map(was -> was.identity().hardware())
                .orElse(Hardware.UNKNOWN)
                .or(unit.hardware());
    }

    @Override
    public void act(Scene scene) {
        GoBack.keepAndSave(scene);
    }

    @Override
    public Proof prove(Scene scene) {
        return GoBack.kept(scene);
    }
}
