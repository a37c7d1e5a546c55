package calmstep.core.step;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import java.time.Duration;
import java.util.Collections;
import java.util.List;
import java.util.Optional;

/**
 * Has the traffic go another way before whoever carries it restarts or hands over, and waits until
 * nothing goes over it any more. Of a unit whose members restart one after the other it is the
 * active one's.
 */
final class DrainTraffic implements Step {
    static final Duration AGAIN = Duration.ofMillis(500);

    /** It may take many minutes, and each question is one more thing to do for the device. */
    private static final Duration ASKED_EVERY = Duration.ofSeconds(5);

    @Override
    public Looked look(Scene scene) {
        DeviceSession session = scene.door().session();
        Reading now = session.read();
        Members.mustBeWhole(scene, now);
        Optional<PartShown> active = activeThatRestarts(scene, now);
        if (scene.hopPlan().rolls() && active.isEmpty()) {
            return new Looked.NotNeeded(
                    "no active member has to restart into %s any more".formatted(scene.hop().to()));
        }
        String member = active.map(PartShown::name).orElse("");
        return session.whyNotDrained(member)
                .map(why -> whileItFlows(scene, member, why))
                .orElseGet(() -> drained(scene, member));
    }

    private static Optional<PartShown> activeThatRestarts(Scene scene, Reading now) {
        return scene.hopPlan().rolls()
                ? Members.notOn(scene.hop().to(), scene, now).stream()
                        .filter(PartShown::isActive)
                        .findFirst()
                : Optional.empty();
    }

    private static Looked drained(Scene scene, String member) {
        String seen = "nothing goes over %s".formatted(called(member));
        return scene.intent().isEmpty()
                ? new Looked.NotNeeded(seen + ", and nobody had to tell it so")
                : new Looked.Shown(expected(member), seen, Evidence.NONE);
    }

    private static Looked whileItFlows(Scene scene, String member, String why) {
        if (scene.intent().filter(intent -> intent.mark().equals(mark(member))).isEmpty()) {
            return new Looked.ToDo(expected(member), why, Optional.of(mark(member)));
        }
        return waiting(scene, member, why);
    }

    /** Whoever was told to drain is given as long as its family gives a restart. */
    static Looked waiting(Scene scene, String member, String why) {
        Duration waited = scene.sinceIntent();
        Duration patience = scene.unit().giveUpAfter();
        return waited.compareTo(patience) < 0
                ? new Looked.NotYet(
                        "%s, for %s".formatted(why, ComeBack.words(waited)),
                        Collections.max(List.of(AGAIN, scene.paced(ASKED_EVERY))))
                : new Looked.Impossible(
                        new Trouble(
                                "nothing goes over %s within %s"
                                        .formatted(called(member), ComeBack.words(patience)),
                                why,
                                "Something holds on to it. End what still goes over it, and try"
                                        + " again; or leave the step out, and what is left is"
                                        + " cut off."));
    }

    static String mark(String member) {
        return "drain " + member;
    }

    private static String expected(String member) {
        return "nothing goes over %s before %s"
                .formatted(called(member), member.isEmpty() ? "it restarts" : "it hands over");
    }

    static String called(String member) {
        return member.isEmpty() ? "it" : "member " + member;
    }

    @Override
    public void act(Scene scene) {
        DeviceSession session = scene.door().session();
        session.drain(activeThatRestarts(scene, session.read()).map(PartShown::name).orElse(""));
    }

    @Override
    public Proof prove(Scene scene) {
        return new Proof.NotYet("it is told to drain", AGAIN);
    }

    /**
     * Right before the act that it was drained for: a person may have held it for hours since.
     *
     * @throws DeviceTrouble where its traffic came back; it has been told again then
     */
    static void mustHold(Scene scene, String member) {
        if (scene.drained() != Scene.Drained.PROVEN) {
            return;
        }
        DeviceSession session = scene.door().session();
        session.whyNotDrained(member)
                .ifPresent(
                        why -> {
                            session.drain(member);
                            throw cameBack(member, why);
                        });
    }

    private static DeviceTrouble cameBack(String member, String why) {
        return new DeviceTrouble(
                DeviceTrouble.Kind.TIMED_OUT,
                new Trouble(
                        "nothing goes over %s, as when it was drained".formatted(called(member)),
                        why,
                        "Its traffic came back. It was told to drain once more; see who undid it,"
                                + " and try again."));
    }
}
