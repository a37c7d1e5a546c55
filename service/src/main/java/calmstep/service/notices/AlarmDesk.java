package calmstep.service.notices;

import calmstep.core.device.DeviceTrouble;
import calmstep.core.device.Trouble;
import calmstep.core.step.Around;
import calmstep.service.reach.Reaches;
import calmstep.service.secrets.SecretBox;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Has alarm systems quieted for what is in work. Each target of notices that says so takes {@code
 * PUT}, {@code GET} and {@code DELETE} at {@code /quiet/DEVICE} below its address ({@code
 * docs/alarms.md}). Who is quiet for which unit is written down before a system is told, so that
 * whatever is over, set aside or abandoned rings again even if we were gone in between; and each
 * quiet has an end of its own.
 */
@Configuration
public class AlarmDesk {
    private static final Logger LOG = LoggerFactory.getLogger(AlarmDesk.class);
    private static final int NOT_QUIET = 404;
    private static final String REMEDY =
            "Look at the alarm system, then try again; or leave the step out, and whoever is on"
                    + " call hears of the restart.";

    private final NoticeTargets targets;
    private final QuietRows rows;
    private final Postman postman;
    private final SecretBox secrets;
    private final Reaches reaches;
    private final TransactionTemplate transactions;
    private final Clock clock;

    AlarmDesk(
            NoticeTargets targets,
            QuietRows rows,
            Postman postman,
            SecretBox secrets,
            Reaches reaches,
            TransactionTemplate transactions,
            Clock clock) {
        this.targets = targets;
        this.rows = rows;
        this.postman = postman;
        this.secrets = secrets;
        this.reaches = reaches;
        this.transactions = transactions;
        this.clock = clock;
    }

    /**
     * @return empty where no alarm system is told
     */
    public Optional<Around.Alarms> of(long unitId, String device) {
        List<NoticeTarget> systems = systems();
        return systems.isEmpty()
                ? Optional.empty()
                : Optional.of(new OfAUnit(unitId, device, systems));
    }

    private List<NoticeTarget> systems() {
        return targets.findAllByOrderByName().stream().filter(target -> target.quiets).toList();
    }

    /** What an alarm system is asked. */
    record Asked(Instant until, String why) {}

    /**
     * @return the status of its answer, which is a yes, or {@value #NOT_QUIET}
     */
    private int ask(NoticeTarget system, String method, String device, Optional<Asked> body) {
        URI address =
                URI.create(
                        "%s/quiet/%s"
                                .formatted(
                                        system.address.replaceAll("/+$", ""),
                                        URLEncoder.encode(device, StandardCharsets.UTF_8)));
        try {
            int status =
                    postman.ask(
                            method,
                            address,
                            body,
                            Optional.ofNullable(system.secret)
                                    .map(secret -> secrets.open(system.owner(), secret)));
            if ((status >= 200 && status < 300) || (status == NOT_QUIET && !method.equals("PUT"))) {
                return status;
            }
            throw new DeviceTrouble(
                    DeviceTrouble.Kind.REFUSED_BY_DEVICE,
                    new Trouble(
                            "the alarm system %s takes %s %s"
                                    .formatted(system.name, method, address),
                            "it answers %s".formatted(status),
                            REMEDY));
        } catch (IOException lost) {
            throw new DeviceTrouble(
                    DeviceTrouble.Kind.SOURCE_NOT_REACHED,
                    new Trouble(
                            "the alarm system %s answers at %s"
                                    .formatted(system.name, system.address),
                            String.valueOf(lost.getMessage()),
                            REMEDY));
        }
    }

    private final class OfAUnit implements Around.Alarms {
        private final long unitId;
        private final String device;
        private final List<NoticeTarget> systems;

        /** Worked out from the whole network, so once for a step. */
        private @Nullable List<String> about;

        OfAUnit(long unitId, String device, List<NoticeTarget> systems) {
            this.unitId = unitId;
            this.device = device;
            this.systems = systems;
        }

        @Override
        public List<String> about() {
            if (about == null) {
                List<String> open =
                        rows.findByUnitIdAndLiftedAtIsNullOrderByDevice(unitId).stream()
                                .map(row -> row.device)
                                .distinct()
                                .toList();
                about =
                        open.isEmpty()
                                ? Stream.concat(
                                                Stream.of(device),
                                                reaches.look().graph().cutOffBy(device).stream())
                                        .toList()
                                : open;
            }
            return about;
        }

        @Override
        public boolean areQuiet() {
            return about().stream()
                    .allMatch(
                            one ->
                                    systems.stream()
                                            .allMatch(
                                                    system ->
                                                            ask(
                                                                            system,
                                                                            "GET",
                                                                            one,
                                                                            Optional.empty())
                                                                    != NOT_QUIET));
        }

        @Override
        public Optional<Instant> askedUntil() {
            return rows.findByUnitIdAndLiftedAtIsNullOrderByDevice(unitId).stream()
                    .map(row -> row.until)
                    .min(Instant::compareTo);
        }

        @Override
        public void quiet(Instant until, String why) {
            List<String> about = about();
            transactions.executeWithoutResult(_ -> keepOpen(about, until));
            about.forEach(
                    one ->
                            systems.forEach(
                                    system ->
                                            ask(
                                                    system,
                                                    "PUT",
                                                    one,
                                                    Optional.of(new Asked(until, why)))));
        }

        private void keepOpen(List<String> about, Instant until) {
            List<QuietRow> open = rows.findByUnitIdAndLiftedAtIsNullOrderByDevice(unitId);
            about.forEach(
                    one -> {
                        QuietRow row =
                                open.stream()
                                        .filter(known -> known.device.equals(one))
                                        .findFirst()
                                        .orElseGet(QuietRow::new);
                        row.unitId = unitId;
                        row.device = one;
                        row.askedAt = clock.instant();
                        row.until = until;
                        rows.save(row);
                    });
        }

        @Override
        public void unQuiet() {
            lift(unitId, systems);
        }
    }

    private void lift(long unitId, List<NoticeTarget> systems) {
        for (QuietRow open : rows.findByUnitIdAndLiftedAtIsNullOrderByDevice(unitId)) {
            if (!rows.existsByDeviceAndUnitIdNotAndLiftedAtIsNull(open.device, unitId)) {
                systems.forEach(system -> ask(system, "DELETE", open.device, Optional.empty()));
            }
            open.liftedAt = clock.instant();
            rows.save(open);
        }
    }

    /** Whoever is over rings again, whether we saw its end or not. */
    @Bean
    RecurringTask<Void> nobodyStaysQuiet() {
        return Tasks.recurring("nobody-stays-quiet", FixedDelay.ofSeconds(5))
                .execute((_, _) -> liftWhatIsOver());
    }

    void liftWhatIsOver() {
        for (long unit : rows.unitsThatAreOver()) {
            try {
                lift(unit, systems());
            } catch (DeviceTrouble untaken) {
                LOG.warn(
                        "Alarms of unit {} are still quiet, and will be tried again: {}",
                        unit,
                        untaken.getMessage());
            }
        }
    }
}
