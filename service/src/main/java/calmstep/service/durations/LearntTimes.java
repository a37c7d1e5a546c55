package calmstep.service.durations;

import calmstep.core.forecast.Seen;
import calmstep.core.forecast.StepTime;
import calmstep.core.forecast.Times;
import calmstep.core.path.Hop;
import calmstep.core.step.StepName;
import calmstep.core.step.UnitPlan;
import calmstep.service.Settings;
import calmstep.service.json.Json;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How long steps take here: the catalogue's word, moved by the newest runs. */
@Component
public class LearntTimes {
    private static final int NEWEST_UNITS = 400;

    /** Steps that found nothing to do, or were done again, say nothing about how long one takes. */
    private static final String TAKEN =
            """
            select u.id as unit, u.plan as plan, d.family as family, d.model as model, s.hop as hop, s.name as step,
                   extract(epoch from s.finished_at - s.started_at)::double precision as seconds
              from (select o.id, o.plan, o.device_id from run_unit o join run r on r.id = o.run_id where not r.rehearsal order by o.id desc limit %s) u
              join device d on d.id = u.device_id
              join run_step s on s.unit_id = u.id
             where s.state = 'done' and s.attempts <= 1 and s.started_at is not null and s.finished_at > s.started_at
             order by s.id\
            """
                    .formatted(NEWEST_UNITS);

    private final JdbcClient sql;
    private final Json json;
    private final Settings settings;

    LearntTimes(JdbcClient sql, Json json, Settings settings) {
        this.sql = sql;
        this.json = json;
        this.settings = settings;
    }

    private record Taken(
            long unit,
            String plan,
            String family,
            String model,
            int hop,
            String step,
            double seconds) {}

    @Transactional(readOnly = true)
    public Times times() {
        Map<Long, UnitPlan> plans = new HashMap<>();
        List<Seen> seen =
                sql.sql(TAKEN).query(Taken.class).stream()
                        .flatMap(taken -> seenOf(taken, plans))
                        .toList();
        return Times.learnt(seen);
    }

    private Stream<Seen> seenOf(Taken taken, Map<Long, UnitPlan> plans) {
        return seen(
                taken,
                plans.computeIfAbsent(taken.unit(), _ -> json.read(taken.plan(), UnitPlan.class)))
                .stream();
    }

    /** Seconds by the devices' clocks: those of a practice fleet run faster than ours. */
    private Optional<Seen> seen(Taken taken, UnitPlan plan) {
        if (taken.hop() < 1 || taken.hop() > plan.hops().size()) {
            return Optional.empty();
        }
        UnitPlan.HopPlan planned = plan.hop(taken.hop());
        Hop hop = planned.hop();
        StepName done = StepName.parse(taken.step());
        if (planned.rolls() && done == StepName.COME_BACK) {
            return Optional.empty();
        }
        // Where members restart one after the other, that step lasts until the last one is back: it
        // is learnt as what it is.
        StepName step = planned.timedAs(done);
        return took(hop, step, planned, plan, taken);
    }

    private Optional<Seen> took(
            Hop hop, StepName step, UnitPlan.HopPlan planned, UnitPlan plan, Taken taken) {
        StepTime prior = Times.prior(hop, step, planned.restartsIn(step), plan.bytesPerSecond());
        return Optional.of(
                new Seen(
                        taken.family(),
                        taken.model(),
                        Times.nameOf(hop),
                        step,
                        prior.medianSeconds(),
                        taken.seconds() * settings.pace()));
    }
}
