package calmstep.core.step;

import calmstep.core.device.BackupKind;
import calmstep.core.device.DeviceDoor;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.BootChoice;
import calmstep.core.fleet.Reading.Identity;
import calmstep.core.fleet.Reading.PartShown;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.IntStream;

/**
 * The smallest stack that members can be restarted in: each is away for some minutes, and another
 * one takes over from the active.
 */
final class StackInMemory implements DeviceDoor, PlainSession {
    private static final Duration HANDS_OVER_IN = Duration.ofSeconds(8);

    /** One of the stack. */
    static final class Member {
        final String name;
        String release = "old";
        int restarts;
        Instant backAt = Instant.EPOCH;
        Instant drainedAt = Instant.MAX;

        Member(String name) {
            this.name = name;
        }
    }

    final List<Member> members;
    final List<String> order = new ArrayList<>();
    final List<String> told = new ArrayList<>();
    final Reading atFirst;
    Instant now = Instant.parse("2026-11-23T02:00:00Z");
    Instant answersFrom = Instant.EPOCH;
    int active;
    int losesOrders;
    int mostOut;
    boolean restartedWhileActive;
    boolean cutsTrafficOff;
    Duration drainsIn = Duration.ofSeconds(90);
    boolean undrainedByTheWay;
    String staysOut = "";
    String startsOld = "";

    StackInMemory(int size, int active) {
        members =
                IntStream.rangeClosed(1, size)
                        .mapToObj(number -> new Member(String.valueOf(number)))
                        .toList();
        this.active = active;
        atFirst = read();
    }

    Member active() {
        return members.get(active);
    }

    void pass(Duration time) {
        now = now.plus(time);
    }

    private boolean isOut(Member member) {
        return now.isBefore(member.backAt);
    }

    void rejoin(Member member) {
        member.backAt = Instant.EPOCH;
        member.release = "new";
    }

    @Override
    public void restartMember(String name) {
        told.add("%s restart %s".formatted(now, name));
        if (losesOrders-- > 0) {
            return;
        }
        Member member = member(name);
        restartedWhileActive |= member == active();
        member.restarts++;
        member.drainedAt = Instant.MAX;
        member.release = name.equals(startsOld) ? "old" : "new";
        member.backAt =
                name.equals(staysOut)
                        ? Instant.MAX
                        : now.plusSeconds(150 + 20L * member.name.length());
        order.add(name);
        mostOut = Math.max(mostOut, (int) members.stream().filter(this::isOut).count());
    }

    @Override
    public void handOver(String name) {
        told.add("%s hand over to %s".formatted(now, name));
        if (losesOrders-- > 0) {
            return;
        }
        cutsTrafficOff |= whyNotDrained(active().name).isPresent();
        active = Integer.parseInt(name) - 1;
        answersFrom = now.plus(HANDS_OVER_IN);
    }

    @Override
    public void drain(String name) {
        told.add("%s drain %s".formatted(now, name));
        if (losesOrders-- > 0) {
            return;
        }
        Member member = member(name);
        member.drainedAt = member.drainedAt.equals(Instant.MAX) ? now : member.drainedAt;
    }

    @Override
    public Optional<String> whyNotDrained(String name) {
        Instant drained = member(name).drainedAt;
        boolean isDrained = !drained.equals(Instant.MAX) && !now.isBefore(drained.plus(drainsIn));
        return isDrained || !member(name).equals(active())
                ? Optional.empty()
                : Optional.of("40 flows over " + name);
    }

    @Override
    public void undrain() {
        told.add("%s undrain".formatted(now));
        members.forEach(member -> member.drainedAt = Instant.MAX);
    }

    @Override
    public Optional<String> whyNotCarrying() {
        return members.stream()
                .filter(member -> !member.drainedAt.equals(Instant.MAX))
                .map(member -> member.name + " is drained")
                .findFirst();
    }

    private Member member(String name) {
        return members.stream().filter(m -> m.name.equals(name)).findFirst().orElseThrow();
    }

    @Override
    public DeviceSession session() {
        if (whereabouts() instanceof Whereabouts.Silent) {
            throw new DeviceTrouble(
                    DeviceTrouble.Kind.NO_ANSWER, new Trouble("an answer", "none", "wait"));
        }
        return this;
    }

    @Override
    public Whereabouts whereabouts() {
        return now.isBefore(answersFrom)
                ? new Whereabouts.Silent("no answer")
                : new Whereabouts.AtCommandLine();
    }

    @Override
    public Reading readNow() {
        return read();
    }

    @Override
    public Reading read() {
        List<PartShown> shown =
                members.stream()
                        .map(
                                member ->
                                        new PartShown(
                                                new Part(
                                                        member.name,
                                                        Part.Kind.MEMBER,
                                                        "M",
                                                        "",
                                                        Map.of("system", member.release),
                                                        List.of()),
                                                isOut(member)
                                                        ? ""
                                                        : member == active()
                                                                ? PartShown.ACTIVE
                                                                : PartShown.STANDBY,
                                                isOut(member) ? "away" : PartShown.IN_SYNC,
                                                "start %s".formatted(17 + member.restarts)))
                        .toList();
        return new Reading(
                now,
                new Identity("sw", "M", "", "S1"),
                new TreeMap<>(Map.of("system", active().release)),
                new BootChoice(active().release + ".img", "new.img", "old.img", true),
                bootMark(),
                List.of(),
                false,
                "",
                List.of(),
                shown,
                new TreeMap<>());
    }

    @Override
    public String bootMark() {
        return "member %s, start %s".formatted(active().name, 17 + active().restarts);
    }

    @Override
    public Optional<String> whyNotReached(URI source) {
        return Optional.empty();
    }

    @Override
    public Optional<String> sha256Of(String fileName) {
        return Optional.empty();
    }

    @Override
    public String pullOff(BackupKind kind) {
        throw notAsked();
    }

    @Override
    public void save() {
        throw notAsked();
    }

    @Override
    public void fetch(URI source, String fileName) {
        throw notAsked();
    }

    @Override
    public void delete(String fileName) {
        throw notAsked();
    }

    @Override
    public void choose(String next, String fallback) {
        throw notAsked();
    }

    @Override
    public void install(String component, String fileName) {
        throw notAsked();
    }

    @Override
    public void restart() {
        throw notAsked();
    }

    private static AssertionError notAsked() {
        return new AssertionError("rolling asks for restarts of members alone");
    }

    @Override
    public void close() {}
}
