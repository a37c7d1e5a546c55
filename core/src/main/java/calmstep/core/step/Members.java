package calmstep.core.step;

import calmstep.core.compare.Change;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.fleet.Part;
import calmstep.core.fleet.Reading;
import calmstep.core.fleet.Reading.PartShown;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What steps ask of the members of a unit. */
public final class Members {
    private Members() {}

    /**
     * Names of those that were there before the hop, or are known now, and do not do their part
     * now; without those that a person goes on without.
     */
    static List<String> out(Scene scene, Reading now) {
        TreeSet<String> out = new TreeSet<>();
        scene.before()
                .ifPresent(before -> before.members().forEach(member -> out.add(member.name())));
        now.members().forEach(member -> out.add(member.name()));
        now.members().stream()
                .filter(PartShown::isInSync)
                .forEach(member -> out.remove(member.name()));
        out.removeAll(scene.unit().without());
        return List.copyOf(out);
    }

    /**
     * Those whose component that moves does not run the release yet. One that a person goes on
     * without counts again once it is back in sync.
     */
    static List<PartShown> notOn(String release, Scene scene, Reading now) {
        return now.members().stream()
                .filter(member -> !isMissed(scene, member))
                .filter(member -> !member.runs(scene.hop().component()).equals(release))
                .toList();
    }

    /** Whether a person goes on without a member, and it is not back. */
    static boolean isMissed(String name, Scene scene, Reading now) {
        return namesMissed(scene, now).anyMatch(name::equals);
    }

    private static boolean isMissed(Scene scene, PartShown member) {
        return scene.unit().without().contains(member.name()) && !member.isInSync();
    }

    /** Whether a difference says no more than {@link #missed} does. */
    static boolean isOfMissed(Change change, Scene scene, Reading now) {
        String member = Part.Kind.MEMBER.toString();
        return namesMissed(scene, now)
                .anyMatch(
                        name ->
                                (change.what().equals(member) && change.name().equals(name))
                                        || (change.what().equals("role")
                                                && change.name().equals(member + " " + name)));
    }

    /** What a person should look at once more where a unit is changed without some of its own. */
    static List<String> missed(Scene scene, Reading now) {
        return namesMissed(scene, now)
                .map(
                        name ->
                                "the unit was changed without member %s, which is %s"
                                        .formatted(name, state(name, now)))
                .toList();
    }

    private static Stream<String> namesMissed(Scene scene, Reading now) {
        return scene.unit().without().stream()
                .filter(
                        name ->
                                find(name, now)
                                        .filter(member -> !isMissed(scene, member))
                                        .isEmpty());
    }

    /** For example {@code member 2}, {@code members 2 and 3}. */
    public static String named(Collection<String> names) {
        return names.size() == 1
                ? "member " + names.iterator().next()
                : "members " + String.join(" and ", names);
    }

    /** How each of some members shows itself. */
    static String shown(List<String> names, Reading now) {
        return names.stream()
                .map(name -> "member %s: %s".formatted(name, state(name, now)))
                .collect(Collectors.joining("; "));
    }

    private static String state(String name, Reading now) {
        return find(name, now)
                .map(PartShown::state)
                .filter(state -> !state.isEmpty())
                .orElse("not there");
    }

    static Optional<PartShown> find(String name, Reading now) {
        return now.members().stream().filter(member -> member.name().equals(name)).findFirst();
    }

    /**
     * What keeps a unit from being changed: members that are out, or a partner that could not take
     * over. Asked at its check, and again before each step that disturbs it.
     */
    static Optional<Trouble> notWhole(Scene scene, Reading now) {
        List<String> out = out(scene, now);
        if (!out.isEmpty()) {
            return Optional.of(
                    new Trouble(
                                    "all its members in sync",
                                    shown(out, now),
                                    "A unit that is not whole is not changed: what is left of it"
                                            + " serves for all. Mend it first, then try again.")
                            .ofMembers(out));
        }
        List<String> partners = partnersOut(now);
        return partners.isEmpty() ? Optional.empty() : partnerOut(partners);
    }

    private static Optional<Trouble> partnerOut(List<String> partners) {
        return Optional.of(
                new Trouble(
                        "its partner in sync",
                        String.join("; ", partners),
                        "Nobody would take over while it is away. Bring the two in step"
                                + " again, then try again."));
    }

    private static List<String> partnersOut(Reading now) {
        List<String> partners =
                now.facts().stream()
                        .filter(
                                fact ->
                                        fact.kind().equals("partner")
                                                && !fact.value().equals(PartShown.IN_SYNC))
                        .map(fact -> "%s: %s".formatted(fact.name(), fact.value()))
                        .toList();
        return partners;
    }

    /**
     * Whether all that are out have started the release already that comes, as a power cut behind
     * the boot choice makes them: the restart of the others brings them together again.
     */
    static boolean haveGoneAhead(Scene scene, Reading now) {
        List<Optional<PartShown>> out =
                out(scene, now).stream().map(name -> find(name, now)).toList();
        return !out.isEmpty()
                && out.stream()
                        .allMatch(
                                member ->
                                        member.filter(
                                                        one ->
                                                                one.runs(scene.hop().component())
                                                                        .equals(scene.hop().to()))
                                                .isPresent());
    }

    /**
     * @throws DeviceTrouble where it is not whole; who is missing may just be starting
     */
    static void mustBeWhole(Scene scene, Reading now) {
        notWhole(scene, now)
                .ifPresent(
                        trouble -> {
                            throw new DeviceTrouble(DeviceTrouble.Kind.NO_ANSWER, trouble);
                        });
    }

    /** What is told when members do not come back into the unit. */
    static Trouble stayOut(List<String> names, Reading now, String waited) {
        return new Trouble(
                        "%s back in sync with the others".formatted(named(names)),
                        "%s, after %s".formatted(shown(names, now), waited),
                        "The others serve. Look at the member's power, its cables to the others and"
                                + " its console line. When it is back in sync, try the step again:"
                                + " nothing is restarted twice.")
                .ofMembers(names);
    }
}
