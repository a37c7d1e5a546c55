package calmstep.service.backups;

import calmstep.service.events.Events;
import calmstep.service.problems.Reason;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Gives out what was kept with its secrets in clear, once the trail tells of it. */
@Component
class GetOut {
    private final BackupStore store;
    private final Events events;

    GetOut(BackupStore store, Events events) {
        this.store = store;
        this.events = events;
    }

    /**
     * @throws calmstep.service.problems.Refusal when no reason is given, or there is no such backup
     */
    @Transactional
    public String clear(String device, long id, String who, String why) {
        Reason.of(why, "it is got out in clear");
        String text = store.clear(device, id);
        events.append(
                Optional.empty(),
                device,
                "backup",
                who,
                "The %s of backup %s of %s was got out in clear: %s"
                        .formatted(store.kindOf(device, id).words(), id, device, why));
        return text;
    }
}
