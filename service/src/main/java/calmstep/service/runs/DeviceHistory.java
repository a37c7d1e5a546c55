package calmstep.service.runs;

import calmstep.core.step.StepName;
import calmstep.core.step.StepState;
import calmstep.core.step.UnitPlan;
import calmstep.service.events.Event;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.json.Json;
import io.swagger.v3.oas.annotations.Operation;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/**
 * What was done to a device, over all its runs: each copy, each restart, each release that was
 * proven, who said go.
 */
@RestController
class DeviceHistory {
    private static final Set<StepName> TOLD =
            Set.of(
                    StepName.BACK_UP,
                    StepName.STAGE,
                    StepName.RESTART_STANDBYS,
                    StepName.DRAIN,
                    StepName.RESTART,
                    StepName.COME_BACK,
                    StepName.SECOND_RESTART,
                    StepName.COME_BACK_AGAIN,
                    StepName.RESCUE,
                    StepName.REPLACE,
                    StepName.RETURN,
                    StepName.PUT_BACK,
                    StepName.RESTORE_ROLES,
                    StepName.PROVE,
                    StepName.UN_DRAIN,
                    StepName.SOAK);

    private final UnitRows units;
    private final RunRows runs;
    private final StepRows steps;
    private final Fleet fleet;
    private final Events events;
    private final Json json;

    DeviceHistory(
            UnitRows units, RunRows runs, StepRows steps, Fleet fleet, Events events, Json json) {
        this.events = events;
        this.units = units;
        this.runs = runs;
        this.steps = steps;
        this.fleet = fleet;
        this.json = json;
    }

    /**
     * @param run empty for what was done outside of runs
     * @param what {@code copied}, {@code go}, {@code restarted}, {@code said} …
     * @param seconds how long it took by our clock; null where it took no time
     */
    record Entry(
            Instant at,
            String run,
            String what,
            String words,
            String who,
            @Nullable Long seconds) {}

    @GetMapping("/api/devices/{name}/history")
    @Transactional(readOnly = true)
    @Operation(
            summary =
                    "What was done to a device, newest first: copies, restarts, releases that were"
                            + " proven, who said go, how long each took")
    List<Entry> of(@PathVariable String name) {
        List<UnitRow> its = units.findByDeviceIdOrderByIdDesc(fleet.idOfAny(name));
        Map<Long, RunRow> real = realRuns(its);
        return Stream.concat(
                        its.stream()
                                .filter(unit -> real.containsKey(unit.runId))
                                .flatMap(unit -> entriesOf(unit, real)),
                        words(name))
                .sorted(Comparator.comparing(Entry::at).reversed())
                .toList();
    }

    /** Each word about it, with who said it and why: in its runs, and outside of them. */
    private Stream<Entry> words(String device) {
        List<Event> said =
                fleet.namesOfAny(device).stream()
                        .flatMap(name -> events.saidAbout(name).stream())
                        .toList();
        Map<Long, String> names =
                runs
                        .findAllById(
                                said.stream()
                                        .map(Event::runId)
                                        .filter(Objects::nonNull)
                                        .distinct()
                                        .toList())
                        .stream()
                        .collect(Collectors.toMap(RunRow::id, run -> run.name));
        return said.stream()
                .filter(event -> !event.kind().equals("gate"))
                .map(
                        event ->
                                new Entry(
                                        event.at(),
                                        Optional.ofNullable(event.runId())
                                                .map(names::get)
                                                .orElse(""),
                                        "said",
                                        event.text(),
                                        event.who(),
                                        null));
    }

    private Map<Long, RunRow> realRuns(List<UnitRow> its) {
        Map<Long, RunRow> real =
                runs.findAllById(its.stream().map(unit -> unit.runId).distinct().toList()).stream()
                        .filter(run -> !run.rehearsal)
                        .collect(Collectors.toMap(RunRow::id, Function.identity()));
        return real;
    }

    private Stream<Entry> entriesOf(UnitRow unit, Map<Long, RunRow> real) {
        return ofUnit(unit, Optional.ofNullable(real.get(unit.runId)).orElseThrow()).stream();
    }

    private List<Entry> ofUnit(UnitRow unit, RunRow run) {
        List<Entry> entries = new ArrayList<>();
        UnitPlan plan = json.read(unit.plan, UnitPlan.class);
        entries.add(
                new Entry(
                        run.startedAt,
                        run.name,
                        "planned",
                        "from %s to %s, by the plan of the run".formatted(plan.from(), plan.to()),
                        run.startedBy,
                        null));
        if (unit.gateAt != null) {
            entries.add(
                    new Entry(
                            unit.gateAt,
                            run.name,
                            "go",
                            String.valueOf(unit.gateQuestion),
                            String.valueOf(unit.gateBy),
                            null));
        }
        steps.findByUnitIdOrderByOrdinal(unit.id()).stream()
                .filter(
                        step ->
                                step.stepState() == StepState.DONE
                                        && step.finishedAt != null
                                        && TOLD.contains(StepName.parse(step.name)))
                .forEach(
                        step ->
                                entries.add(
                                        new Entry(
                                                Optional.ofNullable(step.finishedAt).orElseThrow(),
                                                run.name,
                                                step.name,
                                                step.seen,
                                                "",
                                                step.startedAt == null
                                                        ? null
                                                        : Duration.between(
                                                                        step.startedAt,
                                                                        step.finishedAt)
                                                                .toSeconds())));
        return entries;
    }
}
