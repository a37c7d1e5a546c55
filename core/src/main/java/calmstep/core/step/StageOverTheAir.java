package calmstep.core.step;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.device.DeviceSession;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import java.net.URI;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Brings an image through a base that feeds several devices over one channel: one copy for all who
 * hear it, then to each what it missed. The channel carries one thing at a time, and the base goes
 * on by itself once it was told; so nothing is held open for the hours that it takes, and whoever
 * looks next, after a crash as well, sees how far it came. The driver holds the base while it looks
 * and acts: two devices never give it an order at once.
 */
final class StageOverTheAir implements Step {
    /** Orders in a row that brought nothing, before a person is asked. */
    private static final int IN_VAIN = 3;

    private static final Duration LOOKS_EVERY = Duration.ofSeconds(30);
    private static final Duration AT_LEAST = Duration.ofMillis(300);

    private final Feeder base;

    StageOverTheAir(Feeder base) {
        this.base = base;
    }

    /** The channel is asked first: what comes while the device is asked would look damaged. */
    @Override
    public Looked look(Scene scene) {
        Optional<DeviceSession.Channel> channel = channel();
        List<FirmwareImage> missing = StageImage.missing(scene);
        if (missing.isEmpty()) {
            return arrived(scene);
        }
        if (channel.isEmpty()) {
            return notYet(
                    scene, "%s, which sends it its files, does not answer".formatted(base.name()));
        }
        return channel.get().isFree()
                ? order(scene, missing.getFirst(), channel.get())
                : notYet(scene, "%s is sending: %s".formatted(base.name(), channel.get().says()));
    }

    /** Empty where the base does not answer: it may be changing itself. */
    private Optional<DeviceSession.Channel> channel() {
        try {
            return Optional.of(base.door().session().channel());
        } catch (DeviceTrouble trouble) {
            if (trouble.kind() != DeviceTrouble.Kind.NO_ANSWER) {
                throw trouble;
            }
            return Optional.empty();
        }
    }

    private Looked arrived(Scene scene) {
        return scene.intent().isEmpty()
                ? new Looked.NotNeeded(
                        "%s is on the device, SHA-256 as published".formatted(scene.file()))
                : switch (StageImage.whole(scene)) {
                    case Proof.Proven(String _, String seen, Evidence evidence) ->
                            new Looked.Shown(
                                    "%s on the device".formatted(scene.file()),
                                    "%s, sent by %s".formatted(seen, base.name()),
                                    evidence);
                    case Proof.Unproven(Trouble trouble, var _) -> new Looked.Impossible(trouble);
                    case Proof.NotYet(String seen, Duration again) ->
                            new Looked.NotYet(seen, again);
                };
    }

    private static Looked notYet(Scene scene, String seen) {
        Duration paced = scene.paced(LOOKS_EVERY);
        return new Looked.NotYet(seen, paced.compareTo(AT_LEAST) < 0 ? AT_LEAST : paced);
    }

    private Looked order(Scene scene, FirmwareImage image, DeviceSession.Channel channel) {
        Heard now = Heard.of(scene.door().session().missingOf(image.fileName()));
        Order order =
                scene.intent()
                        .flatMap(intent -> Order.parse(intent.mark()))
                        .map(last -> last.followedBy(now))
                        .orElseGet(() -> new Order(now, 1, now.isDamaged()));
        if (order.number() > IN_VAIN) {
            return new Looked.Impossible(
                    new Trouble(
                            "%s takes %s from %s"
                                    .formatted(
                                            scene.unit().device(), image.fileName(), base.name()),
                            "%s, and %s brought nothing more; %s says: %s"
                                    .formatted(
                                            now.words(),
                                            now.isDamaged()
                                                    ? "sending it from scratch"
                                                    : IN_VAIN + " orders in a row",
                                            base.name(),
                                            channel.says()),
                            "Look at the signal between the two, and at what the base may send."
                                    + " Then try the step again, or set the unit aside."));
        }
        String expected =
                String.format(
                        Locale.ROOT,
                        "%s, %,d bytes, %s",
                        image.fileName(),
                        image.sizeBytes(),
                        now.isPart()
                                ? "whole on the device"
                                : "sent by %s to all who hear it".formatted(base.name()));
        return new Looked.ToDo(expected, now.words(), Optional.of(order.toString()));
    }

    @Override
    public void act(Scene scene) {
        FirmwareImage image = StageImage.missing(scene).getFirst();
        DeviceSession device = scene.door().session();
        URI source =
                StageImage.reached(
                        base.door().session(),
                        base.name(),
                        scene.shelf().open(image.fileName(), base.address()));
        Heard heard = Heard.of(device.missingOf(image.fileName()));
        if (heard.isDamaged()) {
            device.delete(image.fileName());
        }
        send(heard, source, image, scene);
    }

    private void send(Heard heard, URI source, FirmwareImage image, Scene scene) {
        if (heard.isPart()) {
            base.door().session().sendMissing(source, image.fileName(), scene.unit().device());
        } else {
            base.door().session().sendToAll(source, image.fileName());
        }
    }

    /** The order is taken; the next look sees what became of it. */
    @Override
    public Proof prove(Scene scene) {
        return new Proof.NotYet("%s begins to send".formatted(base.name()), AT_LEAST);
    }

    /**
     * How much of a file came.
     *
     * @param missing pieces that it misses; {@link #NOTHING} where nothing came
     */
    private record Heard(long missing) {
        private static final long NOTHING = Long.MAX_VALUE;

        static Heard of(Optional<Long> missing) {
            return new Heard(missing.orElse(NOTHING));
        }

        boolean isNothing() {
            return missing == NOTHING;
        }

        /** Every piece came, and still it is not the file. */
        boolean isDamaged() {
            return missing == 0;
        }

        boolean isPart() {
            return !isNothing() && !isDamaged();
        }

        String words() {
            return isNothing()
                    ? "nothing of it came"
                    : isDamaged()
                            ? "all of it came, and its SHA-256 is another one"
                            : String.format(Locale.ROOT, "%,d pieces of it are missing", missing);
        }
    }

    /**
     * An order to the base, as the intent keeps it.
     *
     * @param heard what had come before it
     * @param number counted from the last one that brought something
     * @param scratch whether the file was sent from scratch once, since all of it had come and was
     *     damaged
     */
    private record Order(Heard heard, int number, boolean scratch) {
        static Optional<Order> parse(String mark) {
            String[] words = mark.split(" ");
            return words.length == 3
                    ? Optional.of(
                            new Order(
                                    new Heard(Long.parseLong(words[0])),
                                    Integer.parseInt(words[1]),
                                    Boolean.parseBoolean(words[2])))
                    : Optional.empty();
        }

        Order followedBy(Heard now) {
            if (now.isDamaged()) {
                return new Order(now, scratch ? IN_VAIN + 1 : 1, true);
            }
            boolean more = now.missing() < heard.missing() || heard.isDamaged();
            return new Order(now, more ? 1 : number + 1, scratch);
        }

        @Override
        public String toString() {
            return "%s %s %s".formatted(heard.missing(), number, scratch);
        }
    }
}
