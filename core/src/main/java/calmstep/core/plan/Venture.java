package calmstep.core.plan;

import calmstep.core.catalogue.Advisory;
import calmstep.core.catalogue.Channel;
import java.util.List;

/**
 * Something about where a path leads that its catalogue allows and a careful engineer does not do
 * by accident.
 */
interface Venture extends Concern {
    private static String sentences(List<String> texts) {
        return texts.isEmpty()
                ? "its catalogue names nothing that is lost"
                : "what is lost: " + String.join("; ", texts);
    }

    /** A move down. */
    record GoesDown(String from, String to, List<String> loses) implements Venture {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "goes-down-" + to,
                    "%s goes down from %s to %s; %s.".formatted(device, from, to, sentences(loses)),
                    "Say why it has to go down, or leave it out.");
        }
    }

    /** A release that is not for everybody. */
    record NotGeneral(String release, Channel channel, boolean onTheWay) implements Venture {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "not-general-" + release,
                    "%s, %s %s, is published as %s, not for general use."
                            .formatted(
                                    release,
                                    onTheWay ? "by way of which goes" : "the target of",
                                    device,
                                    channel),
                    "Say why it has to be this one, or name a general release.");
        }
    }

    /** A move to another system on the same hardware. */
    record OtherLine(String from, String fromLine, String to, String toLine, List<String> loses)
            implements Venture {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "other-line-" + to,
                    "%s changes its software line from %s (%s) to %s (%s); %s."
                            .formatted(device, fromLine, from, toLine, to, sentences(loses)),
                    "Read the note of the move, say why, or leave it out.");
        }
    }

    /** A published fault that the device does not have today and has afterwards. */
    record Exposed(String release, Advisory advisory) implements Venture {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "exposed-%s-%s".formatted(advisory.id(), release),
                    "On %s, %s has a fault that it does not have today: %s."
                            .formatted(release, device, words(advisory)),
                    "Say why that is acceptable, or choose a release without it.");
        }
    }

    /** A published fault of where the path leads that the device has today as well. */
    record StillExposed(String release, Advisory advisory) implements Venture {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "still-exposed-%s-%s".formatted(advisory.id(), release),
                    "On %s, %s still has a fault: %s.".formatted(release, device, words(advisory)));
        }
    }

    /** A fault of a release that is only passed. */
    record ExposedOnTheWay(String release, Advisory advisory) implements Venture {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "exposed-on-the-way-%s-%s".formatted(advisory.id(), release),
                    "%s passes %s, which has a fault that it does not have today: %s."
                            .formatted(device, release, words(advisory)));
        }
    }

    /** The maker recommends a newer one than the plan goes to. */
    record NewerRecommended(String target, String recommended) implements Venture {
        @Override
        public Finding about(String device) {
            return Finding.note(
                    device,
                    "newer-recommended-" + recommended,
                    "%s goes to %s; its maker recommends %s."
                            .formatted(device, target, recommended));
        }
    }

    /** A hop after which the device starts without its configuration. */
    record WipesConfiguration(String release, List<String> loses, List<String> cannotGive)
            implements Venture {
        @Override
        public Finding about(String device) {
            return Finding.toAccept(
                    device,
                    "wipes-" + release,
                    "The move of %s to %s wipes its configuration. The run puts back what it backed up; %s%s."
                            .formatted(device, release, sentences(loses), notComingBack()),
                    "Have what does not come back at hand, or leave it out.");
        }

        private String notComingBack() {
            return cannotGive.isEmpty()
                    ? ""
                    : "; what the family cannot give, and what does not come back: "
                            + String.join("; ", cannotGive);
        }
    }

    private static String words(Advisory advisory) {
        return "%s, %s: %s".formatted(advisory.id(), advisory.severity(), advisory.sentence());
    }
}
