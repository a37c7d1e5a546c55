package calmstep.service.shelf;

import calmstep.core.window.SiteLink;
import calmstep.service.Settings;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.stereotype.Component;

/**
 * The copies that are under way, from this node and from the others, which tell theirs every other
 * second. What goes over one link to a site together takes no more than the windows file allows it,
 * counted on the devices' clock: the line is shared with people at work.
 */
@Component
public class Copies {
    private static final Logger LOG = LoggerFactory.getLogger(Copies.class);
    private static final Duration TELLS_EVERY = Duration.ofSeconds(2);
    private static final Duration HEARD_FOR = Duration.ofSeconds(1);

    private final Lines lines;
    private final OtherNodes others;
    private final Settings settings;
    private final Clock clock;
    private final Set<Copy> underWay = ConcurrentHashMap.newKeySet();
    private final Map<String, LinkShare> shares = new ConcurrentHashMap<>();
    private final AtomicBoolean tells = new AtomicBoolean();
    private Instant heardAt = Instant.EPOCH;
    private List<Copy.View> heard = List.of();

    Copies(Lines lines, OtherNodes others, Settings settings, Clock clock) {
        this.lines = lines;
        this.others = others;
        this.settings = settings;
        this.clock = clock;
    }

    /**
     * A copy of a file to one device; close it when it is over.
     *
     * @param over what carries it
     * @param from the first byte that is sent: what a device has already is not sent again
     */
    Copy begin(String fileName, String address, String over, long from, long sizeBytes) {
        Optional<Lines.End> end = lines.to(address);
        Optional<SiteLink> link = end.flatMap(Lines.End::link);
        Optional<LinkShare> share =
                link.map(
                        one ->
                                shares.compute(
                                        one.name(),
                                        (_, known) ->
                                                known == null
                                                                || known.bytesPerSecond()
                                                                        != one.bytesPerSecond()
                                                                                * settings.pace()
                                                        ? new LinkShare(
                                                                one.bytesPerSecond()
                                                                        * settings.pace())
                                                        : known));
        Copy copy =
                new Copy(
                        fileName,
                        end.map(Lines.End::device).orElse(address),
                        address,
                        over,
                        from,
                        sizeBytes,
                        share,
                        clock.instant(),
                        underWay::remove);
        underWay.add(copy);
        if (tells.compareAndSet(false, true)) {
            Thread.ofVirtual().name("copies-told").start(this::tell);
        }
        return copy;
    }

    private void tell() {
        try {
            while (!underWay.isEmpty()) {
                others.tell(own());
                Thread.sleep(TELLS_EVERY);
            }
            others.tell(List.of());
        } catch (DataAccessException away) {
            LOG.debug("The other nodes are not told of copies just now", away);
        } catch (InterruptedException stop) {
            Thread.currentThread().interrupt();
        } finally {
            tells.set(false);
        }
    }

    private List<Copy.View> own() {
        return underWay.stream().map(copy -> copy.view(clock.instant(), settings.pace())).toList();
    }

    private synchronized List<Copy.View> heard() {
        if (Duration.between(heardAt, clock.instant()).compareTo(HEARD_FOR) > 0) {
            heard = others.heard();
            heardAt = clock.instant();
        }
        return heard;
    }

    /** Those under way, by device. */
    public List<Copy.View> underWay() {
        return Stream.concat(own().stream(), heard().stream())
                .sorted(Comparator.comparing(Copy.View::device).thenComparing(Copy.View::fileName))
                .toList();
    }

    /** The one to a device, where one is under way. */
    public Optional<Copy.View> to(String device) {
        return Stream.concat(
                        underWay.stream()
                                .filter(copy -> copy.device().equals(device))
                                .map(copy -> copy.view(clock.instant(), settings.pace())),
                        heard().stream().filter(copy -> copy.device().equals(device)))
                .findFirst();
    }
}
