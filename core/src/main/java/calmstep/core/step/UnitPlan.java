package calmstep.core.step;

import calmstep.core.catalogue.Catalogue;
import calmstep.core.catalogue.Effect;
import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.catalogue.Hardware;
import calmstep.core.path.Cost;
import calmstep.core.path.Hop;
import calmstep.core.path.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;

/**
 * What a plan wants of one unit.
 *
 * @param readAt time of the reading that the plan was worked out from; empty where the inventory's
 *     word was all there was
 * @param serial the box that was read; another one is not touched
 * @param hardware what its images were chosen for, as the device showed it where it did
 * @param configurationSha256 its configuration at that time
 * @param saveFirst whether a person decided that unsaved changes are saved first
 * @param serves who loses service when it restarts, in users' words; may be empty
 * @param giveUpAfter how long after a restart the device is given up
 * @param bytesPerSecond usual rate of a copy to it
 * @param supply where its files come from
 * @param knownImages names of the family's published images: what may be removed to make room
 * @param inTheWay names of other files, which may go only if a person says so
 * @param without members that a person goes on without as long as they are out
 */
public record UnitPlan(
        String device,
        String site,
        String address,
        Optional<Instant> readAt,
        String serial,
        Hardware hardware,
        String configurationSha256,
        boolean saveFirst,
        String serves,
        Duration giveUpAfter,
        long bytesPerSecond,
        Supply supply,
        Set<String> knownImages,
        Set<String> inTheWay,
        Set<String> without,
        List<HopPlan> hops) {
    public UnitPlan {
        // A plan that was kept before anybody asked for these.
        hardware = Objects.requireNonNullElse(hardware, Hardware.UNKNOWN);
        supply = Objects.requireNonNullElse(supply, Supply.SHELF);
        knownImages = Collections.unmodifiableSet(new TreeSet<>(knownImages));
        inTheWay =
                Collections.unmodifiableSet(
                        new TreeSet<>(Objects.requireNonNullElse(inTheWay, Set.of())));
        without =
                Collections.unmodifiableSet(
                        new TreeSet<>(Objects.requireNonNullElse(without, Set.of())));
        hops = List.copyOf(hops);
    }

    /**
     * Where files come from.
     *
     * @param fedBy the base that sends them; empty where the device fetches them itself, or is sent
     *     them by us
     * @param medium what is plugged into the device and looked at first, as the device calls it
     */
    public record Supply(Optional<String> fedBy, Optional<String> medium) {
        public static final Supply SHELF = new Supply(Optional.empty(), Optional.empty());
    }

    /**
     * A hop with the steps that it needs.
     *
     * @param ordinal counted from 1
     * @param atOnce how many members restart at once while the others serve; 0 where everything
     *     restarts together
     * @param wholeSeconds from the first restart until the unit is whole again, as the order of its
     *     members has it
     * @param darkSeconds in which it serves nobody; where members restart one after the other, its
     *     hand-overs alone
     * @param ahead whether its image is brought and proven before the first hop's gate, because
     *     there is room for both
     * @param standbySeconds of the whole, until all but the active member are back, where they
     *     restart in a step of their own
     */
    public record HopPlan(
            int ordinal,
            Hop hop,
            List<StepName> steps,
            int atOnce,
            long wholeSeconds,
            long darkSeconds,
            Boolean ahead,
            Long standbySeconds) {
        public HopPlan {
            steps = List.copyOf(steps);
            // A hop that was kept when each image came right before it was needed.
            ahead = Objects.requireNonNullElse(ahead, false);
            standbySeconds = Objects.requireNonNullElse(standbySeconds, 0L);
        }

        /** With its image brought right before it is needed. */
        public HopPlan(
                int ordinal,
                Hop hop,
                List<StepName> steps,
                int atOnce,
                long wholeSeconds,
                long darkSeconds) {
            this(ordinal, hop, steps, atOnce, wholeSeconds, darkSeconds, false, 0L);
        }

        /** Whether a step of it is done before the unit's first gate. */
        public boolean isAhead(StepName step) {
            return ahead && step.bringsImage();
        }

        public HopPlan(int ordinal, Hop hop, List<StepName> steps) {
            this(ordinal, hop, steps, 0, hop.dark().toSeconds(), hop.dark().toSeconds());
        }

        /**
         * The way back over it.
         *
         * @param images what ran before
         */
        public HopPlan back(List<FirmwareImage> images) {
            Hop way =
                    new Hop(
                            hop.component(),
                            hop.to(),
                            hop.from(),
                            images,
                            List.of(),
                            List.of(),
                            hop.restarts(),
                            hop.dark(),
                            hop.configuration(),
                            false,
                            List.of(),
                            List.of());
            return new HopPlan(
                    ordinal, way, steps, atOnce, wholeSeconds, darkSeconds, false, standbySeconds);
        }

        /** From the first restart until the unit is whole again. */
        public Duration restarts() {
            return Duration.ofSeconds(wholeSeconds);
        }

        /** Of {@link #restarts()}, what is waited for in one step of it. */
        public Duration restartsIn(StepName step) {
            return step == StepName.RESTART_STANDBYS
                    ? Duration.ofSeconds(standbySeconds)
                    : Duration.ofSeconds(wholeSeconds - standbySeconds);
        }

        public Duration dark() {
            return Duration.ofSeconds(darkSeconds);
        }

        /** The step that interrupts service first. */
        public StepName interrupts() {
            return steps.contains(StepName.RESTART) ? StepName.RESTART : StepName.CHOOSE_BOOT;
        }

        /** The order to restart that a step behind it waits for. */
        public StepName restartBefore(StepName step) {
            return step.compareTo(StepName.SECOND_RESTART) > 0
                            && steps.contains(StepName.SECOND_RESTART)
                    ? StepName.SECOND_RESTART
                    : interrupts();
        }

        /**
         * As which step one of it is timed: where members restart one after the other, the restart
         * itself lasts until the last of them is back.
         */
        public StepName timedAs(StepName step) {
            return switch (step) {
                case RESTART -> rolls() ? StepName.COME_BACK : step;
                case COME_BACK -> rolls() ? StepName.RESTART : step;
                default -> step;
            };
        }

        /**
         * Whether what has no other way than over this unit loses the network meanwhile: where
         * members restart one after the other, somebody forwards all the time.
         */
        public boolean darkensOthers() {
            return !rolls() && hop.restarts() > 0;
        }

        /** Whether its members restart one after the other. */
        public boolean rolls() {
            return atOnce > 0;
        }
    }

    /** The steps that not every family can, or not every plan wishes. */
    public static final Set<StepName> FURTHER =
            Set.of(
                    StepName.PRE_LOAD,
                    StepName.RESTART_STANDBYS,
                    StepName.DRAIN,
                    StepName.RESTORE_ROLES,
                    StepName.UN_DRAIN);

    /**
     * The steps that a hop needs: behind the last hop it is watched, and old images are tidied
     * away; a component that restarts on its own takes no restart of the device, and boards that
     * the release brings along take a second one, where its catalogue counts two; only a
     * configuration that was wiped is put back.
     *
     * @param further of {@link #FURTHER}, those that its family can and the plan wishes
     */
    public static List<StepName> stepsOf(Hop hop, boolean lastHop, Set<StepName> further) {
        return Stream.of(StepName.values())
                .filter(
                        step ->
                                switch (step) {
                                    case RETURN, RESCUE, REPLACE -> false;
                                    case SOAK, TIDY -> lastHop;
                                    case PRE_LOAD,
                                            RESTART_STANDBYS,
                                            DRAIN,
                                            RESTORE_ROLES,
                                            UN_DRAIN ->
                                            further.contains(step);
                                    case RESTART -> hop.restarts() > 0;
                                    case SECOND_RESTART, COME_BACK_AGAIN -> hop.restartsForBoards();
                                    case PUT_BACK ->
                                            hop.configuration() == Effect.Configuration.WIPED;
                                    case CHECK,
                                            BACK_UP,
                                            MAKE_ROOM,
                                            STAGE,
                                            CONFIRM_IMAGE,
                                            QUIET,
                                            CHOOSE_BOOT,
                                            COME_BACK,
                                            PROVE,
                                            UN_QUIET ->
                                            true;
                                })
                .toList();
    }

    /** As {@link #stepsOf(Hop, boolean, Set)}, of a device of which nothing further is wanted. */
    public static List<StepName> stepsOf(Hop hop, boolean lastHop) {
        return stepsOf(hop, lastHop, Set.of());
    }

    public UnitPlan withSaveFirst(boolean save) {
        return with(address, readAt, serial, configurationSha256, save, knownImages);
    }

    /** The same where a person took the configuration over as it stands on the device. */
    public UnitPlan withAnyConfiguration() {
        return with(address, readAt, serial, "", saveFirst, knownImages);
    }

    /** The same where a person said that what lies in the way may go. */
    public UnitPlan withMayGo() {
        Set<String> may = new TreeSet<>(knownImages);
        may.addAll(inTheWay);
        return with(address, readAt, serial, configurationSha256, saveFirst, may);
    }

    /** The same for a box that stands at another address and was read at another time. */
    public UnitPlan at(String otherAddress, Instant read, String otherSha256) {
        return with(otherAddress, Optional.of(read), serial, otherSha256, saveFirst, knownImages);
    }

    /**
     * The same for the box that stands there now.
     *
     * @param otherSerial empty for the one that was planned
     */
    public UnitPlan replacedBy(Optional<String> otherSerial) {
        return otherSerial
                .map(
                        other ->
                                with(
                                        address,
                                        readAt,
                                        other,
                                        configurationSha256,
                                        saveFirst,
                                        knownImages))
                .orElse(this);
    }

    /** The same where a person goes on without some members. */
    public UnitPlan goingOnWithout(Set<String> members) {
        if (members.equals(without)) {
            return this;
        }
        return new UnitPlan(
                device,
                site,
                address,
                readAt,
                serial,
                hardware,
                configurationSha256,
                saveFirst,
                serves,
                giveUpAfter,
                bytesPerSecond,
                supply,
                knownImages,
                inTheWay,
                members,
                hops);
    }

    private UnitPlan with(
            String at,
            Optional<Instant> read,
            String box,
            String sha256,
            boolean save,
            Set<String> mayGo) {
        return new UnitPlan(
                device,
                site,
                at,
                read,
                box,
                hardware,
                sha256,
                save,
                serves,
                giveUpAfter,
                bytesPerSecond,
                supply,
                mayGo,
                inTheWay,
                without,
                hops);
    }

    /** A device of its family that changes nothing, and is there for its sake. */
    public UnitPlan standingBy(String other, String itsSite) {
        return new UnitPlan(
                other,
                itsSite,
                "",
                Optional.empty(),
                "",
                Hardware.UNKNOWN,
                "",
                false,
                "",
                giveUpAfter,
                bytesPerSecond,
                Supply.SHELF,
                knownImages,
                Set.of(),
                Set.of(),
                List.of());
    }

    /** Its hops as a path. */
    public Path path() {
        return new Path(
                hops.stream().map(HopPlan::hop).toList(),
                new Cost(
                        0,
                        restarts(),
                        dark().toSeconds(),
                        0,
                        hops.stream().mapToLong(h -> h.hop().bytes()).sum()));
    }

    /** What is done of it in one go: its hops, cut where it may rest. */
    public List<List<HopPlan>> parts() {
        List<List<HopPlan>> parts = new ArrayList<>(List.of(new ArrayList<>()));
        for (HopPlan hop : hops) {
            parts.getLast().add(hop);
            if (hop.hop().mayRest() && !hop.equals(hops.getLast())) {
                parts.add(new ArrayList<>());
            }
        }
        return parts;
    }

    public HopPlan hop(int ordinal) {
        return hops.get(ordinal - 1);
    }

    /**
     * Where its system stands before all of it; where only a component moves, that component's
     * release with its name.
     */
    public String from() {
        return from(hops);
    }

    /** As {@link #from()}, of some of its hops. */
    static String from(List<HopPlan> some) {
        Hop first =
                some.stream()
                        .map(HopPlan::hop)
                        .filter(hop -> hop.component().equals(Catalogue.SYSTEM))
                        .findFirst()
                        .orElse(some.getFirst().hop());
        return first.component().equals(Catalogue.SYSTEM)
                ? first.from()
                : "%s %s".formatted(first.component(), first.from());
    }

    public String to() {
        return hops.getLast().hop().step();
    }

    public int restarts() {
        return hops.stream().mapToInt(h -> h.hop().restarts()).sum();
    }

    /** Whether what has no other way than over it loses the network at some hop. */
    public boolean darkensOthers() {
        return hops.stream().anyMatch(HopPlan::darkensOthers);
    }

    public Duration dark() {
        return dark(hops);
    }

    /** As {@link #dark()}, of some of its hops. */
    public static Duration dark(List<HopPlan> some) {
        return some.stream().map(HopPlan::dark).reduce(Duration.ZERO, Duration::plus);
    }
}
