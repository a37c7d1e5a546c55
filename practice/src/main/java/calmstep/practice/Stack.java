package calmstep.practice;

import calmstep.practice.Machine.Power;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.TreeMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.BiFunction;
import java.util.stream.IntStream;

/**
 * Machines that answer as one: a stack, a pair. One of them leads and speaks for all; when it goes,
 * the lowest that is whole takes over. A member that comes back is whole after a while, unless its
 * release does not run beside the lead's: then it stays apart and serves nobody.
 *
 * <p>Everything that happens to members is done by one thread, so that no lock of a member is ever
 * held while another one's is asked for.
 */
final class Stack implements StandIn {
    private static final Duration TAKES_OVER_IN = Duration.ofSeconds(8);
    private static final OneThread TIMER = new OneThread("practice-stacks");
    private static final int NOBODY = 0;

    /** How a member stands in its stack. */
    enum Standing {
        WHOLE("whole"),
        JOINING("joining"),
        APART("apart"),
        AWAY("away");

        private final String word;

        Standing(String word) {
            this.word = word;
        }

        @Override
        public String toString() {
            return word;
        }
    }

    final Flows flows;
    private final MachineDescription description;
    private final StackManner manner;
    private final List<Machine> members = new CopyOnWriteArrayList<>();
    private final BiFunction<MachineDescription, String, Machine> another;
    private final Map<Integer, Standing> standings = new TreeMap<>();
    private final Path kept;
    private final int pace;
    private final Properties memory = new Properties();
    private Optional<Listener> listener = Optional.empty();
    private volatile boolean on;
    private int lead = NOBODY;
    private int waiting;
    private boolean answering;
    private boolean lastIsApart;

    Stack(MachineDescription description, Labels labels, Path folder, Path images, int pace) {
        this.description = description;
        manner =
                StackManner.of(description.family())
                        .orElseThrow(
                                () ->
                                        new IllegalArgumentException(
                                                "No stand-in of several members speaks as %s does"
                                                        .formatted(description.family())));
        this.kept = folder.resolve("stack.properties");
        this.pace = pace;
        another =
                (box, sign) -> {
                    PracticeFleet.mustBeThere(box.running(), images);
                    return new Machine(
                            box, labels, made(folder.resolve("member-" + sign)), images, pace);
                };
        flows = new Flows(this, pace);
        IntStream.rangeClosed(1, description.members().serials().size())
                .forEach(
                        number -> {
                            members.add(
                                    another.apply(
                                            description.member(number), String.valueOf(number)));
                            standings.put(number, Standing.AWAY);
                            follow(number);
                        });
        memory.setProperty("formed", "16");
        if (Files.exists(kept)) {
            try (InputStream in = Files.newInputStream(kept)) {
                memory.load(in);
            } catch (IOException failed) {
                throw new UncheckedIOException(failed);
            }
        }
    }

    private void follow(int number) {
        Machine one = member(number);
        one.listen(
                power -> {
                    if (on && one == member(number)) {
                        TIMER.now(() -> memberIs(number, power));
                    }
                });
    }

    /** Another box in the place of a member: it runs an image, and knows nothing else. */
    void replace(int number, String serial, String image) {
        if (number < 1 || number > size()) {
            throw new IllegalArgumentException("No member %s here.".formatted(number));
        }
        Machine other = another.apply(description.member(number).replacedBy(serial, image), serial);
        member(number).close();
        members.set(number - 1, other);
        follow(number);
        member(number).powerCycle();
    }

    private static Path made(Path folder) {
        try {
            return Files.createDirectories(folder);
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    @Override
    public MachineDescription description() {
        return description;
    }

    int size() {
        return members.size();
    }

    List<Machine> members() {
        return members;
    }

    /**
     * @param number counted from 1
     */
    Machine member(int number) {
        return members.get(number - 1);
    }

    @Override
    public synchronized void listen(Listener told) {
        listener = Optional.of(told);
    }

    @Override
    public void switchOn() {
        members.forEach(Machine::switchOn);
        synchronized (this) {
            on = true;
            IntStream.rangeClosed(1, size())
                    .filter(number -> member(number).power() == Power.RUNNING)
                    .forEach(number -> standings.put(number, Standing.WHOLE));
            if (lastIsApart) {
                apart();
            }
            leads(firstWhole());
            form();
        }
    }

    private void form() {
        memory.setProperty("formed", String.valueOf(formed() + 1));
        memory.setProperty("formed-at", Instant.now().toString());
        try (var out = Files.newOutputStream(kept)) {
            memory.store(out, null);
        } catch (IOException failed) {
            throw new UncheckedIOException(failed);
        }
    }

    /** How often it came up as a whole. */
    synchronized int formed() {
        return Integer.parseInt(memory.getProperty("formed"));
    }

    synchronized Instant formedAt() {
        return Instant.parse(memory.getProperty("formed-at", Instant.EPOCH.toString()));
    }

    private int firstWhole() {
        return standings.entrySet().stream()
                .filter(entry -> entry.getValue() == Standing.WHOLE)
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(NOBODY);
    }

    /** Nobody leads a stack that is not played any more. */
    private void leads(int number) {
        if (!on && number != NOBODY) {
            return;
        }
        lead = number;
        boolean answers = number != NOBODY;
        if (answers != answering) {
            answering = answers;
            listener.ifPresent(l -> l.answers(answers));
        }
    }

    /** Nobody leads for a moment, then another one does. */
    private void passLead(int to) {
        leads(NOBODY);
        waiting++;
        TIMER.after(
                TAKES_OVER_IN.dividedBy(pace),
                () -> {
                    synchronized (this) {
                        waiting--;
                        if (lead == NOBODY && standings.get(to) == Standing.WHOLE) {
                            leads(to);
                        }
                    }
                });
    }

    private synchronized void memberIs(int number, Power power) {
        if (!on) {
            return;
        }
        lastIsApart &= number != size();
        if (power != Power.RUNNING) {
            goesAway(number);
        } else if (firstWhole() == NOBODY) {
            standings.put(number, Standing.WHOLE);
            leads(number);
            form();
        } else {
            join(number);
        }
    }

    private void goesAway(int number) {
        standings.put(number, Standing.AWAY);
        if (number == lead) {
            Optional.of(firstWhole())
                    .filter(next -> next != NOBODY)
                    .ifPresentOrElse(this::passLead, () -> leads(NOBODY));
        }
    }

    private void join(int number) {
        standings.put(number, Standing.JOINING);
        waiting++;
        TIMER.after(description.members().settles().dividedBy(pace), () -> joined(number));
    }

    private synchronized void joined(int number) {
        waiting--;
        if (standings.get(number) == Standing.JOINING) {
            Machine whole = member(firstWhole() == NOBODY ? number : firstWhole());
            standings.put(
                    number, runsBeside(member(number), whole) ? Standing.WHOLE : Standing.APART);
            member(number).adopt(whole.settings(), whole.keptSettings());
        }
    }

    /** As the headers of both images say; the newer one's word counts. */
    private static boolean runsBeside(Machine one, Machine other) {
        if (one.release().equals(other.release())) {
            return true;
        }
        Machine newer = Releases.isOlder(one.release(), other.release()) ? other : one;
        Machine older = newer == one ? other : one;
        String from = newer.running().map(image -> image.rules().besideFrom()).orElse("");
        return !from.isEmpty() && !Releases.isOlder(older.release(), from);
    }

    /**
     * The member that speaks for all. Only asked by whoever it lets in, so there is one, or there
     * was one a moment ago.
     */
    synchronized Machine leader() {
        return member(lead == NOBODY ? 1 : lead);
    }

    synchronized int lead() {
        return lead;
    }

    synchronized Standing standing(int number) {
        return standings.getOrDefault(number, Standing.AWAY);
    }

    /** Members that do their part, the lead first. */
    List<Machine> whole() {
        List<Machine> whole = new ArrayList<>(List.of(leader()));
        IntStream.rangeClosed(1, size())
                .filter(
                        number ->
                                standing(number) == Standing.WHOLE
                                        && !whole.contains(member(number)))
                .forEach(number -> whole.add(member(number)));
        return whole;
    }

    /** All go down together. */
    void restart() {
        synchronized (this) {
            standings.replaceAll((_, _) -> Standing.AWAY);
            leads(NOBODY);
        }
        members.stream()
                .filter(member -> member.power() == Power.RUNNING)
                .forEach(Machine::restart);
    }

    void restart(int number) {
        member(number).restart();
    }

    /**
     * @return whether that member can take over
     */
    synchronized boolean handOver(int to) {
        if (standings.get(to) != Standing.WHOLE) {
            return false;
        }
        member(to).adopt(leader().settings(), leader().keptSettings());
        TIMER.after(
                Duration.ofMillis(20),
                () -> {
                    synchronized (this) {
                        passLead(to);
                    }
                });
        return true;
    }

    /**
     * Copies a file of the lead's to all others.
     *
     * @return the one that has no room for it; empty when it is on all
     */
    Optional<Machine> pass(String name) throws IOException {
        long size = leader().flash().files().getOrDefault(name, 0L);
        for (Machine member : whole()) {
            if (member != leader()) {
                if (member.flash().freeBytes() + member.flash().files().getOrDefault(name, 0L)
                        < size) {
                    return Optional.of(member);
                }
                leader().copies(true);
                try {
                    Terminal.pause(leader().copyTime(size).dividedBy(4));
                    Files.copy(
                            leader().flash().file(name),
                            member.flash().file(name),
                            StandardCopyOption.REPLACE_EXISTING);
                } finally {
                    leader().copies(false);
                }
            }
        }
        return Optional.empty();
    }

    /** The first one that does its part and lacks a file. */
    Optional<Machine> without(String file) {
        return whole().stream()
                .filter(member -> !member.flash().files().containsKey(file))
                .findFirst();
    }

    int numberOf(Machine member) {
        return members.indexOf(member) + 1;
    }

    @Override
    public boolean isBusy() {
        synchronized (this) {
            if (waiting > 0) {
                return true;
            }
        }
        return members.stream().anyMatch(Machine::isBusy);
    }

    @Override
    public void add(Fault fault) {
        StackFaults.add(this, fault);
    }

    @Override
    public boolean has(Fault fault) {
        return members.stream().anyMatch(member -> member.has(fault));
    }

    @Override
    public void clearFaults() {
        members.forEach(Machine::clearFaults);
    }

    /** The last one falls out of step with the others, and stays so until it restarts. */
    synchronized void apart() {
        lastIsApart = true;
        standings.put(size(), Standing.APART);
    }

    @Override
    public String greeting() {
        return manner.greeting.formatted(leader().release().replace(' ', '-'));
    }

    @Override
    public void talk(InputStream in, OutputStream out) throws IOException {
        manner.talk(this, in, out);
    }

    /** One line for all: it shows the first member that stands in its loader. */
    @Override
    public String console() {
        return inLoader()
                .map(
                        number ->
                                "member %s\n%s\n%s"
                                        .formatted(
                                                number,
                                                String.join("\n", member(number).bootMessages()),
                                                manner.loaderPrompt))
                .orElse(
                        lead() == NOBODY
                                ? ""
                                : "%s runs %s\n".formatted(description.name(), leader().release()));
    }

    @Override
    public List<Voice> voices() {
        return members.stream().map(Machine::voice).toList();
    }

    @Override
    public String loaderPrompt() {
        return inLoader().isEmpty() ? "" : manner.loaderPrompt;
    }

    private Optional<Integer> inLoader() {
        return IntStream.rangeClosed(1, size())
                .boxed()
                .filter(number -> member(number).power() == Power.IN_BOOT_LOADER)
                .findFirst();
    }

    @Override
    public Optional<SnmpPort.Shown> shown() {
        return lead() == NOBODY
                ? Optional.empty()
                : Optional.of(
                        new SnmpPort.Shown(
                                manner.shows.formatted(
                                        description.model(), size(), leader().release()),
                                manner.object,
                                description.name(),
                                description.model(),
                                description.revision(),
                                description.serial(),
                                leader().release()));
    }

    @Override
    public void close() {
        synchronized (this) {
            on = false;
        }
        members.forEach(Machine::close);
        synchronized (this) {
            leads(NOBODY);
        }
    }
}
