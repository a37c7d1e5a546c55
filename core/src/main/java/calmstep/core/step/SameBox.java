package calmstep.core.step;

import calmstep.core.device.Trouble;
import calmstep.core.fleet.Discrepancy;
import calmstep.core.fleet.Reading;
import java.util.List;
import java.util.Optional;

/**
 * Is the box that answers the one that the plan was worked out for? Asked before anything is done
 * to it, before its boot choice is set, and after each restart: an image is made for one kind of
 * box, and another one can be spoilt by it.
 */
final class SameBox {
    private SameBox() {}

    static Optional<Trouble> difference(UnitPlan unit, Reading reading) {
        List<Discrepancy> found = Discrepancy.between(unit.hardware(), unit.serial(), reading);
        return found.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        new Trouble(
                                Discrepancy.written(found),
                                Discrepancy.shown(found),
                                "Another box stands at this address, or part of it was changed."
                                        + " Put the right one back; or, where this one takes its"
                                        + " place, say so with its serial number, or correct the"
                                        + " inventory and plan anew."));
    }
}
