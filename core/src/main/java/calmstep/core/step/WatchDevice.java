package calmstep.core.step;

import calmstep.core.compare.Change;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Looks at the device again and again for as long as the soak lasts. It must go on as it was
 * proven: without a restart of its own, on the same release. What is odd at the end is a person's
 * to judge; what was odd meanwhile and is not any more is nobody's trouble.
 */
final class WatchDevice implements Step {
    private static final int LOOKS = 5;
    private static final Duration SELDOM = Duration.ofMinutes(15);
    private static final Duration OFTEN = Duration.ofMillis(500);

    @Override
    public Looked look(Scene scene) {
        Reading reading = scene.read();
        if (scene.intent().isEmpty()) {
            return new Looked.ToDo(
                    expected(scene),
                    "it serves; watched from now on",
                    Optional.of(reading.bootMark()));
        }
        Optional<Trouble> trouble =
                restarted(scene, scene.intent().get(), reading)
                        .or(() -> ProveRelease.difference(scene, reading));
        if (trouble.isPresent()) {
            return new Looked.Impossible(trouble.get());
        }
        List<Change> changes = ProveRelease.changes(scene, reading);
        List<String> cautions = ProveRelease.cautions(scene, reading, changes);
        Duration left =
                scene.paced(scene.around().soak())
                        .minus(Duration.between(scene.intent().get().at(), scene.now()));
        if (left.isPositive()) {
            return new Looked.NotYet(
                    "under watch for another %s%s"
                            .formatted(
                                    ComeBack.words(left.multipliedBy(scene.pace())),
                                    ProveRelease.odd(cautions)),
                    again(scene, left));
        }
        List<String> odd =
                Stream.concat(cautions.stream(), ProveRelease.complaints(scene)).toList();
        return new Looked.Shown(
                expected(scene),
                "it went on as it was proven" + ProveRelease.odd(odd),
                ProveRelease.evidence(scene, reading, changes, odd));
    }

    private static String expected(Scene scene) {
        return scene.around().soak().isZero()
                ? "a last look"
                : "nothing turns bad within %s".formatted(ComeBack.words(scene.around().soak()));
    }

    private static Optional<Trouble> restarted(Scene scene, Intent begun, Reading reading) {
        return reading.bootMark().equals(begun.mark())
                ? Optional.empty()
                : Optional.of(
                        new Trouble(
                                "no restart while it is watched",
                                "it restarted by itself since %s: %s, then %s"
                                        .formatted(
                                                Turn.words(begun.at()),
                                                begun.mark(),
                                                reading.bootMark()),
                                "Read its start-up messages for the cause. Try the step again to watch it anew, or let it go back to %s."
                                        .formatted(scene.hop().from())));
    }

    private static Duration again(Scene scene, Duration left) {
        Duration share = scene.paced(scene.around().soak()).dividedBy(LOOKS);
        Duration pause =
                share.compareTo(scene.paced(SELDOM)) > 0
                        ? scene.paced(SELDOM)
                        : share.compareTo(OFTEN) < 0 ? OFTEN : share;
        return pause.compareTo(left) > 0 ? left : pause;
    }

    /** Only the looks that follow tell. */
    @Override
    public Proof prove(Scene scene) {
        Duration soak = scene.paced(scene.around().soak());
        return new Proof.NotYet(
                "under watch for %s".formatted(ComeBack.words(scene.around().soak())),
                soak.isZero() ? Duration.ZERO : again(scene, soak));
    }
}
