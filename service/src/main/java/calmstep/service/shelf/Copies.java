package calmstep.service.shelf;

import calmstep.core.window.SiteLink;
import calmstep.service.Settings;
import java.time.Clock;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/**
 * The copies that are under way from this node. What goes over one link to a site together takes no more than the windows file allows it, counted on the
 * devices' clock: the line is shared with people at work.
 */
@Component
public class Copies {
    private final Lines lines;
    private final Settings settings;
    private final Clock clock;
    private final Set<Copy> underWay = ConcurrentHashMap.newKeySet();
    private final Map<String, LinkShare> shares = new ConcurrentHashMap<>();

    Copies(Lines lines, Settings settings, Clock clock) {
        this.lines = lines;
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
        Optional<LinkShare> share = link.map(one -> shares.compute(one.name(), (_, known) -> known == null || known.bytesPerSecond() != one.bytesPerSecond() * settings.pace() ? new LinkShare(one.bytesPerSecond() * settings.pace()) : known));
        Copy copy = new Copy(fileName, end.map(Lines.End::device).orElse(address), address, over, from, sizeBytes, share, clock.instant(), underWay::remove);
        underWay.add(copy);
        return copy;
    }

    /** Those under way, by device. */
    public List<Copy.View> underWay() {
        return underWay.stream().map(copy -> copy.view(clock.instant(), settings.pace())).sorted(Comparator.comparing(Copy.View::device).thenComparing(Copy.View::fileName)).toList();
    }

    /** The one to a device, where one is under way. */
    public Optional<Copy.View> to(String device) {
        return underWay.stream().filter(copy -> copy.device().equals(device)).findFirst().map(copy -> copy.view(clock.instant(), settings.pace()));
    }
}
