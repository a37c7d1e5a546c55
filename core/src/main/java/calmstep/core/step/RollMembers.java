package calmstep.core.step;

import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import java.time.Duration;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Restarts the members of a unit one after the other while the others serve, the active one last.
 * Each look decides anew from what the unit shows: whoever is out is waited for, the next one
 * restarts only when all are in sync, and the active one hands over to a member that runs the new
 * release before it restarts itself. The intent names the member and its mark, so that none is
 * restarted twice after a crash.
 */
final class RollMembers implements Step {
    /** Whether the active one is left as it is: it is drained first. */
    private final boolean standbysOnly;

    RollMembers(boolean standbysOnly) {
        this.standbysOnly = standbysOnly;
    }

    private static final Duration AGAIN = Duration.ofMillis(500);
    private static final Duration WHILE_HELD = Duration.ofSeconds(10);

    /** What comes next: members restart, or the active one hands over. */
    private sealed interface Move {
        String mark();

        record Restart(List<PartShown> members) implements Move {
            @Override
            public String mark() {
                return members.stream().map(RollMembers::marked).collect(Collectors.joining("; "));
            }
        }

        record HandOver(PartShown from, PartShown to) implements Move {
            @Override
            public String mark() {
                return "active %s".formatted(from.name());
            }
        }
    }

    @Override
    public Looked look(Scene scene) {
        Reading now;
        try {
            now = scene.door().session().read();
        } catch (DeviceTrouble lost) {
            return whileOutOfReach(scene, lost);
        }
        List<String> out = Members.out(scene, now);
        if (!out.isEmpty()) {
            return waitFor(out, now, scene);
        }
        List<PartShown> old = old(scene, now);
        if (old.isEmpty()) {
            return standbysOnly ? standbysRestarted(scene, now) : allRestarted(scene, now);
        }
        Looked due = due(scene, now, old);
        return scene.around().held() && due instanceof Looked.ToDo next
                ? new Looked.NotYet(
                        "%s; a person holds it, and then: %s"
                                .formatted(next.seen(), next.expected()),
                        WHILE_HELD)
                : due;
    }

    private List<PartShown> old(Scene scene, Reading now) {
        return Members.notOn(scene.hop().to(), scene, now).stream()
                .filter(member -> !standbysOnly || !member.isActive())
                .toList();
    }

    private static Looked standbysRestarted(Scene scene, Reading now) {
        return new Looked.Shown(
                "every member but the active one restarted into %s".formatted(scene.hop().to()),
                howMany(scene, now) + ", and all are in sync",
                Evidence.NONE);
    }

    private static String howMany(Scene scene, Reading now) {
        int all = now.members().size();
        return "%s of %s members run it"
                .formatted(all - Members.notOn(scene.hop().to(), scene, now).size(), all);
    }

    private static Looked allRestarted(Scene scene, Reading now) {
        return new Looked.Shown(
                "every member restarted into %s, one after the other".formatted(scene.hop().to()),
                "all %s members run it and are in sync".formatted(now.members().size()),
                Evidence.NONE);
    }

    /** A hand-over costs the line for a moment. */
    private static Looked whileOutOfReach(Scene scene, DeviceTrouble lost) {
        if (!lost.isSilence() || scene.intent().isEmpty()) {
            throw lost;
        }
        return isHopeless(scene)
                ? new Looked.Impossible(
                        new Trouble(
                                "the unit answers while its members restart",
                                "%s for %s"
                                        .formatted(
                                                lost.trouble().seen(),
                                                ComeBack.words(scene.sinceIntent())),
                                "Look at its console line or send somebody. No other member is"
                                        + " restarted.",
                                lost.trouble().lastLines()))
                : new Looked.NotYet(lost.trouble().seen(), AGAIN);
    }

    private static Looked waitFor(List<String> out, Reading now, Scene scene) {
        return scene.intent().isEmpty() || isHopeless(scene)
                ? new Looked.Impossible(
                        Members.stayOut(
                                out,
                                now,
                                scene.intent().isEmpty()
                                        ? "no restart of ours"
                                        : ComeBack.words(scene.sinceIntent())))
                : new Looked.NotYet(
                        "%s, for %s"
                                .formatted(
                                        Members.shown(out, now),
                                        ComeBack.words(scene.sinceIntent())),
                        AGAIN);
    }

    private static boolean isHopeless(Scene scene) {
        return scene.sinceIntent().compareTo(scene.unit().giveUpAfter()) > 0;
    }

    private static Looked due(Scene scene, Reading now, List<PartShown> old) {
        Optional<Intent> intent = scene.intent();
        List<PartShown> restartedInVain = restartedInVain(old, intent);
        if (!restartedInVain.isEmpty()) {
            PartShown member = restartedInVain.getFirst();
            return inVain(member, scene);
        }
        if (!scene.isChosen(now)) {
            return choiceChanged(scene, now);
        }
        Optional<Move> next = next(scene, now, old);
        if (next.isEmpty()) {
            return nobodyTakesOver(scene);
        }
        if (mayStillObey(intent, next, scene)) {
            return waiting(intent);
        }
        return switch (next.get()) {
            case Move.Restart(var members) -> toRestart(members, scene, now, next);
            case Move.HandOver(var from, var to) -> toHandOver(from, to, scene, next);
        };
    }

    private static Looked waiting(Optional<Intent> intent) {
        return new Looked.NotYet(
                "waiting whether the order that was given at %s is carried out"
                        .formatted(intent.get().at()),
                AGAIN);
    }

    private static boolean mayStillObey(Optional<Intent> intent, Optional<Move> next, Scene scene) {
        return intent.filter(i -> i.mark().equals(next.get().mark())).isPresent()
                && scene.mayStillObey();
    }

    private static Looked.ToDo toHandOver(
            PartShown from, PartShown to, Scene scene, Optional<Move> next) {
        return new Looked.ToDo(
                "member %s hands over to member %s, which runs %s"
                        .formatted(from.name(), to.name(), scene.hop().to()),
                "member %s is active and runs %s".formatted(from.name(), scene.hop().from()),
                Optional.of(next.get().mark()));
    }

    private static Looked.ToDo toRestart(
            List<PartShown> members, Scene scene, Reading now, Optional<Move> next) {
        return new Looked.ToDo(
                "%s into %s while the others serve"
                        .formatted(
                                Members.named(members.stream().map(PartShown::name).toList()),
                                scene.hop().to()),
                howMany(scene, now),
                Optional.of(next.get().mark()));
    }

    private static Looked nobodyTakesOver(Scene scene) {
        return new Looked.Impossible(
                new Trouble(
                        "a member in sync that runs %s and can take over"
                                .formatted(scene.hop().to()),
                        "only the active one is left",
                        "Look at the other members; a unit of one member cannot restart while"
                                + " it serves."));
    }

    private static Looked choiceChanged(Scene scene, Reading now) {
        return new Looked.Impossible(
                new Trouble(
                        scene.wantedChoice() + ", before members restart",
                        scene.choice(now),
                        "Somebody changed the boot choice. Look at the device before a member"
                                + " is restarted."));
    }

    private static Looked inVain(PartShown member, Scene scene) {
        return new Looked.Impossible(
                new Trouble(
                        "member %s runs %s after its restart"
                                .formatted(member.name(), scene.hop().to()),
                        "it came back on %s".formatted(member.runs(scene.hop().component())),
                        "The others serve. Read its start-up messages; no other member is"
                                + " restarted until this one is looked at."));
    }

    private static List<PartShown> restartedInVain(List<PartShown> old, Optional<Intent> intent) {
        List<PartShown> restartedInVain =
                old.stream()
                        .filter(
                                member ->
                                        intent.filter(
                                                        i ->
                                                                isOrdered(i, member)
                                                                        && !ordersIn(i)
                                                                                .contains(
                                                                                        marked(
                                                                                                member)))
                                                .isPresent())
                        .toList();
        return restartedInVain;
    }

    private static String marked(PartShown member) {
        return "member %s, %s".formatted(member.name(), member.mark());
    }

    private static List<String> ordersIn(Intent intent) {
        return List.of(intent.mark().split("; "));
    }

    private static boolean isOrdered(Intent intent, PartShown member) {
        return ordersIn(intent).stream()
                .anyMatch(one -> one.startsWith("member %s, ".formatted(member.name())));
    }

    /** Standbys first; then the active one hands over, and is a standby itself. */
    private static Optional<Move> next(Scene scene, Reading now, List<PartShown> old) {
        List<PartShown> standbys =
                old.stream()
                        .filter(member -> !member.isActive())
                        .sorted(Comparator.comparing(PartShown::name).reversed())
                        .toList();
        if (!standbys.isEmpty()) {
            return Optional.of(
                    new Move.Restart(
                            standbys.subList(
                                    0, Math.min(scene.hopPlan().atOnce(), standbys.size()))));
        }
        return now.members().stream()
                .filter(member -> member.isInSync() && !old.contains(member))
                .min(Comparator.comparing(PartShown::name))
                .map(to -> new Move.HandOver(old.getFirst(), to));
    }

    @Override
    public void act(Scene scene) {
        QuietAlarms.renew(scene);
        DeviceSession session = scene.door().session();
        Reading now = session.read();
        next(scene, now, old(scene, now)).ifPresent(move -> order(move, scene, session));
    }

    private static void order(Move move, Scene scene, DeviceSession session) {
        switch (move) {
            case Move.Restart(var members) ->
                    members.forEach(member -> session.restartMember(member.name()));
            case Move.HandOver(var from, var to) -> {
                DrainTraffic.mustHold(scene, from.name());
                session.handOver(to.name());
            }
        }
    }

    /** What became of the order is the next look's matter: there may be more members. */
    @Override
    public Proof prove(Scene scene) {
        return new Proof.NotYet("the order is given", AGAIN);
    }
}
