package calmstep.service.shelf;

import calmstep.core.window.SiteLink;
import java.util.Optional;

/** What is known of the way from the shelf to devices. */
public interface Lines {
    /**
     * A device at an address.
     *
     * @param link that transfers to its site share, with what they may take together; empty where
     *     nobody limits them
     */
    record End(String device, String site, Optional<SiteLink> link) {}

    /**
     * @return empty where no device of ours has the address
     */
    Optional<End> to(String address);
}
