package calmstep.core.step;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import java.util.List;
import java.util.Optional;

/**
 * Makes the member active again that was so at the unit's very first check, where the plan wishes
 * it. Who is active meanwhile is drained first, where its family can.
 */
final class RestoreRoles implements Step {
    @Override
    public Looked look(Scene scene) {
        Reading now;
        try {
            now = scene.door().session().readNow();
        } catch (DeviceTrouble lost) {
            return whileTheLineIsGone(scene, lost);
        }
        Optional<String> before = scene.first().flatMap(RestoreRoles::active);
        Optional<String> active = active(now);
        if (before.filter(member -> Members.isMissed(member, scene, now)).isPresent()) {
            return new Looked.NotNeeded(
                    "member %s, which was active before, is gone on without"
                            .formatted(before.get()));
        }
        if (before.isEmpty()) {
            return new Looked.NotNeeded("no member of it was the active one before");
        }
        if (before.equals(active)) {
            return asBefore(scene, before.get());
        }
        List<String> out = Members.out(scene, now);
        if (!out.isEmpty() || active.isEmpty()) {
            return whileItHandsOver(scene, before.get(), out, now);
        }
        return due(scene, before.get(), active.get());
    }

    private static Optional<String> active(Reading reading) {
        return reading.members().stream()
                .filter(PartShown::isActive)
                .map(PartShown::name)
                .findFirst();
    }

    private static Looked asBefore(Scene scene, String member) {
        String seen = "member %s is active".formatted(member);
        return scene.intent().isEmpty()
                ? new Looked.NotNeeded(seen + ", as before")
                : new Looked.Shown(expected(member), seen, Evidence.NONE);
    }

    private static String expected(String member) {
        return "member %s is active again, as before the change".formatted(member);
    }

    /** Behind our own order that passes; without one nobody may wait for it for good. */
    private static Looked whileItHandsOver(
            Scene scene, String before, List<String> out, Reading now) {
        String seen = out.isEmpty() ? "no member is active" : Members.shown(out, now);
        if (scene.mayStillObey()) {
            return new Looked.NotYet(seen, DrainTraffic.AGAIN);
        }
        return new Looked.Impossible(
                out.isEmpty()
                        ? new Trouble(
                                expected(before),
                                seen,
                                "Look at the unit: nobody says that it serves for all. Then try"
                                        + " again; or leave the step out.")
                        : Members.stayOut(out, now, "its restart"));
    }

    private static Looked due(Scene scene, String before, String active) {
        if (drains(scene)) {
            Optional<String> flows = scene.door().session().whyNotDrained(active);
            if (flows.isPresent()) {
                return isIntended(scene, DrainTraffic.mark(active))
                        ? DrainTraffic.waiting(scene, active, flows.get())
                        : new Looked.ToDo(
                                "nothing goes over member %s before it hands over"
                                        .formatted(active),
                                flows.get(),
                                Optional.of(DrainTraffic.mark(active)));
            }
        }
        return isIntended(scene, mark(before))
                ? afterTheOrder(scene, before, active)
                : toDo(before, active);
    }

    private static Looked toDo(String before, String active) {
        return new Looked.ToDo(
                expected(before), "member %s is".formatted(active), Optional.of(mark(before)));
    }

    private static Looked afterTheOrder(Scene scene, String before, String active) {
        return scene.mayStillObey()
                ? new Looked.NotYet("waiting for the hand-over", DrainTraffic.AGAIN)
                : new Looked.Impossible(
                        new Trouble(
                                expected(before),
                                "member %s is still active".formatted(active),
                                "It did not hand over. Look at both members; or leave the step"
                                        + " out, and the roles stay as they are."));
    }

    private static boolean isIntended(Scene scene, String mark) {
        return scene.intent().filter(intent -> intent.mark().equals(mark)).isPresent();
    }

    /** A hand-over costs the line for a moment. */
    private static Looked whileTheLineIsGone(Scene scene, DeviceTrouble lost) {
        if (!lost.isSilence() || !scene.mayStillObey()) {
            throw lost;
        }
        return new Looked.NotYet(lost.trouble().seen(), DrainTraffic.AGAIN);
    }

    private static String mark(String member) {
        return "active " + member;
    }

    private static boolean drains(Scene scene) {
        return scene.hopPlan().steps().contains(StepName.DRAIN);
    }

    @Override
    public void act(Scene scene) {
        DeviceSession session = scene.door().session();
        Reading now = session.read();
        String before = scene.first().flatMap(RestoreRoles::active).orElseThrow();
        String active = active(now).orElseThrow();
        if (drains(scene) && session.whyNotDrained(active).isPresent()) {
            session.drain(active);
        } else {
            QuietAlarms.renew(scene);
            session.handOver(before);
        }
    }

    @Override
    public Proof prove(Scene scene) {
        return new Proof.NotYet("the order is given", DrainTraffic.AGAIN);
    }
}
