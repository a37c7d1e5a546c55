package calmstep.service.runs;

import calmstep.core.catalogue.FirmwareImage;
import calmstep.core.device.DeviceDoor.Whereabouts;
import calmstep.core.device.DeviceTrouble;
import calmstep.core.fleet.Reading.PartShown;
import calmstep.core.step.Detour;
import calmstep.core.step.MeetReplacement;
import calmstep.core.step.StepName;
import calmstep.core.step.StepRecord;
import calmstep.core.step.UnitMachine;
import calmstep.core.step.UnitPlan;
import calmstep.dialect.Door;
import calmstep.dialect.Talk;
import calmstep.service.events.Events;
import calmstep.service.fleet.DeviceDoors;
import calmstep.service.fleet.Fleet;
import calmstep.service.fleet.Replacements;
import calmstep.service.problems.Refusal;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import org.springframework.stereotype.Component;

/**
 * A person's word that puts steps between the planned ones: a device is rescued from its boot
 * loader, goes back to what it ran, or another box takes its place or that of one of its members.
 */
@Component
class Detours {
    private static final int OUT_OF_THE_WAY = 10_000;

    private final Runs runs;
    private final StepRows steps;
    private final Fleet fleet;
    private final Replacements replacements;
    private final DeviceDoors ways;
    private final UnitPlans plans;
    private final DetourImages images;
    private final Ways choices;
    private final StepEvidence evidence;
    private final Events events;
    private final Wake wake;

    Detours(
            Runs runs,
            StepRows steps,
            Fleet fleet,
            Replacements replacements,
            DeviceDoors ways,
            UnitPlans plans,
            DetourImages images,
            Ways choices,
            StepEvidence evidence,
            Events events,
            Wake wake) {
        this.runs = runs;
        this.steps = steps;
        this.fleet = fleet;
        this.replacements = replacements;
        this.ways = ways;
        this.plans = plans;
        this.images = images;
        this.choices = choices;
        this.evidence = evidence;
        this.events = events;
        this.wake = wake;
    }

    /**
     * @param asked the image that a person names; empty for the best one on the shelf
     */
    RunView rescue(String run, String unit, Optional<String> asked, String who) {
        if (!fleet.dialectOf(unit).abilities().rescues()) {
            throw Refusal.conflict(
                    "The dialect of %s describes no way out of its boot loader. Start an image by hand over its console line, then try the step again."
                            .formatted(fleet.dialectOf(unit).title()));
        }
        UnitRow row =
                runs.change(
                        run,
                        unit,
                        (in, stuck) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(stuck.id());
                            List<StepRecord> after =
                                    Detour.rescued(records(rows))
                                            .orElseThrow(
                                                    () ->
                                                            Refusal.conflict(
                                                                    "%s is not one that did not come back; it is %s. Only such a device is rescued."
                                                                            .formatted(
                                                                                    stuck.name,
                                                                                    stuck.state)));
                            FirmwareImage image =
                                    images.rescueImage(
                                            stuck, hopOf(after, StepName.RESCUE), rows, asked);
                            lay(stuck, rows, after, image.fileName());
                            events.append(
                                    Optional.of(in.id()),
                                    stuck.name,
                                    "unit",
                                    who,
                                    "%s has %s rescued with %s."
                                            .formatted(who, stuck.name, image.fileName()));
                        });
        wake.unit(row.id());
        return runs.find(run);
    }

    /** Chooses its image and restarts it once more: it came back on what it ran before. */
    RunView again(String run, String unit, String why, String who) {
        Runs.mustSayWhy(why, "the unit restarts once more");
        return laid(
                run,
                unit,
                (stuck, rows) ->
                        Ways.again(plans.of(stuck), records(rows))
                                .orElseThrow(
                                        () ->
                                                Refusal.conflict(
                                                        "%s is not stuck at the proof of a restart; it is %s. Only there it chooses and restarts once more."
                                                                .formatted(
                                                                        stuck.name, stuck.state))),
                "%s has %s choose its image and restart once more: %s",
                why,
                who);
    }

    /** Takes its configuration over as it stands on the device, and has it backed up anew. */
    RunView takeOver(String run, String unit, String why, String who) {
        Runs.mustSayWhy(why, "its configuration is taken over");
        return laid(
                run,
                unit,
                (stuck, rows) -> {
                    List<StepRecord> after =
                            Detour.takenOver(records(rows))
                                    .orElseThrow(
                                            () ->
                                                    Refusal.conflict(
                                                            "%s is not stuck at its check or before its boot choice; it is %s. Only there its configuration is taken over."
                                                                    .formatted(
                                                                            stuck.name,
                                                                            stuck.state)));
                    stuck.takesOver = true;
                    return after;
                },
                "%s takes the configuration of %s over as it stands on the device: %s",
                why,
                who);
    }

    private RunView laid(
            String run,
            String unit,
            BiFunction<UnitRow, List<StepRow>, List<StepRecord>> way,
            String words,
            String why,
            String who) {
        UnitRow row =
                runs.change(
                        run,
                        unit,
                        (in, stuck) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(stuck.id());
                            lay(stuck, rows, way.apply(stuck, rows), "");
                            events.append(
                                    Optional.of(in.id()),
                                    stuck.name,
                                    "unit",
                                    who,
                                    words.formatted(who, stuck.name, why));
                        });
        wake.unit(row.id());
        return runs.find(run);
    }

    /** Back to what it ran before the hop at which it is stuck, its configuration with it. */
    RunView goBack(String run, String unit, String why, String who) {
        Runs.mustSayWhy(why, "the unit goes back");
        boolean putsBack = fleet.dialectOf(unit).abilities().putsBack();
        // Nothing is changed yet: a talk with a device is no matter for a transaction.
        UnitRow asked = runs.change(run, unit, (_, _) -> {});
        if (Detour.isWaitedFor(records(steps.findByUnitIdOrderByOrdinal(asked.id())))) {
            mustAnswer(unit);
        }
        UnitRow row =
                runs.change(
                        run,
                        unit,
                        (in, stuck) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(stuck.id());
                            WayBack back = images.wayBack(stuck, rows);
                            if (!back.isOpen() && !back.words().isEmpty()) {
                                throw Refusal.conflict(back.words());
                            }
                            List<StepRecord> after =
                                    Detour.returned(
                                                    records(rows),
                                                    plans.of(stuck),
                                                    back.over(),
                                                    putsBack)
                                            .orElseThrow(
                                                    () ->
                                                            Refusal.conflict(
                                                                    "%s is not stuck behind a boot choice; it is %s. Where nothing was chosen nothing is returned: set it aside."
                                                                            .formatted(
                                                                                    stuck.name,
                                                                                    stuck.state)));
                            lay(stuck, rows, after, "");
                            events.append(
                                    Optional.of(in.id()),
                                    stuck.name,
                                    "unit",
                                    who,
                                    "%s has %s go back %s: %s"
                                            .formatted(who, stuck.name, back.words(), why));
                        });
        wake.unit(row.id());
        return runs.find(run);
    }

    /** A word that cannot be carried out must not take the way of the ones that can. */
    private void mustAnswer(String unit) {
        try (Door door = ways.door(unit, Talk.NONE)) {
            String seen =
                    switch (door.whereabouts()) {
                        case Whereabouts.AtCommandLine() -> "";
                        case Whereabouts.InBootLoader(var _) -> "it stands in its boot loader";
                        case Whereabouts.Silent(String silence) -> silence;
                    };
            if (!seen.isEmpty()) {
                throw Refusal.conflict(
                        "%s cannot go back by itself: expected it to answer on its command line, saw: %s. Rescue it, have it switched on, or send somebody; nothing was changed."
                                .formatted(unit, seen));
            }
        }
    }

    /**
     * Another box stands there now, with the name, the address and a login of the one that it
     * replaces. It is met before anything is laid out: so whoever says it hears at once whether it
     * is the one that was meant, and its host key is believed for its serial number's sake, not for
     * standing at the address.
     */
    RunView replace(String run, String unit, String serial, String why, String who) {
        Runs.mustSayWhy(why, "another box takes its place");
        if (serial.isBlank()) {
            throw Refusal.wrong(
                    "Say the serial number of the box that stands there now; it is what tells that"
                            + " box from any other at this address.");
        }
        // Nothing is changed yet: a talk with a device is no matter for a transaction.
        runs.change(
                run,
                unit,
                (_, stuck) -> replaced(stuck, steps.findByUnitIdOrderByOrdinal(stuck.id())));
        Replacements.Met met = replacements.meet(unit);
        UnitRow row =
                runs.change(
                        run,
                        unit,
                        (in, stuck) -> {
                            List<StepRow> rows = steps.findByUnitIdOrderByOrdinal(stuck.id());
                            List<StepRecord> after = replaced(stuck, rows);
                            String planned = plans.of(stuck).serial();
                            int hop = hopOf(after, StepName.REPLACE);
                            stuck.serial = serial;
                            UnitPlan plan = plans.of(stuck);
                            MeetReplacement.unfit(
                                            plan,
                                            plan.hop(hop),
                                            evidence.before(rows, hop),
                                            met.reading())
                                    .ifPresent(
                                            trouble -> {
                                                throw Refusal.conflict(trouble.sentence());
                                            });
                            replacements.believe(stuck.name, met, who);
                            lay(stuck, rows, after, "");
                            events.append(
                                    Optional.of(in.id()),
                                    stuck.name,
                                    "unit",
                                    who,
                                    "%s has the box with serial number %s take the place of %s, which had %s: %s"
                                            .formatted(who, serial, stuck.name, planned, why));
                        });
        wake.unit(row.id());
        return runs.find(run);
    }

    /**
     * Another box stands in the place of a member that was out. It is looked at before anything is
     * laid out, so that whoever says it hears at once whether it is the one that was meant.
     */
    RunView replaceMember(
            String run, String unit, String member, String serial, String why, String who) {
        Runs.mustSayWhy(why, "another box takes the place of a member");
        if (serial.isBlank() || member.isBlank()) {
            throw Refusal.wrong(
                    "Say which member it is, and the serial number of the box that stands there"
                            + " now.");
        }
        // Nothing is changed yet: a talk with a device is no matter for a transaction.
        UnitRow asked =
                runs.change(
                        run,
                        unit,
                        (_, stuck) ->
                                memberReplaced(
                                        stuck, steps.findByUnitIdOrderByOrdinal(stuck.id())));
        List<StepRow> before = steps.findByUnitIdOrderByOrdinal(asked.id());
        mustFit(asked, before, member, serial);
        return laid(
                run,
                unit,
                (stuck, rows) -> {
                    List<StepRecord> after = memberReplaced(stuck, rows);
                    Set<String> without = StepRow.lines(stuck.without);
                    without.remove(member);
                    stuck.without = String.join("\n", without);
                    return after;
                },
                "%s has the box with serial number "
                        + serial
                        + " take the place of member "
                        + member
                        + " of %s: %s",
                why,
                who);
    }

    private List<StepRecord> memberReplaced(UnitRow stuck, List<StepRow> rows) {
        return choices.memberReplaced(stuck, plans.of(stuck), rows)
                .orElseThrow(
                        () ->
                                Refusal.conflict(
                                        "%s is %s; a member is replaced within a run where the unit is stuck because members are out, behind the copy of a hop of its system. Before it, try again once the new one has joined."
                                                .formatted(stuck.name, stuck.state)));
    }

    private Optional<PartShown> before(List<StepRow> rows, int hop, String member) {
        return evidence.before(rows, hop).stream()
                .flatMap(reading -> reading.members().stream())
                .filter(one -> one.name().equals(member))
                .findFirst();
    }

    private void mustFit(UnitRow unit, List<StepRow> rows, String member, String serial) {
        int hop = Detour.stuck(records(rows)).orElseThrow().hop();
        Optional<PartShown> was = before(rows, hop, member);
        try (Door door = ways.door(unit.name, Talk.NONE)) {
            MeetReplacement.unfitMember(
                            plans.of(unit).hop(hop), was, member, serial, door.session().read())
                    .ifPresent(
                            trouble -> {
                                throw Refusal.conflict(trouble.sentence());
                            });
        } catch (DeviceTrouble trouble) {
            throw Refusal.conflict(
                    "%s could not be read. %s".formatted(unit.name, trouble.trouble().sentence()));
        }
    }

    /**
     * @throws Refusal where no box can take its place within the run
     */
    private List<StepRecord> replaced(UnitRow stuck, List<StepRow> rows) {
        return Ways.replaced(fleet, plans.of(stuck), records(rows))
                .orElseThrow(
                        () ->
                                Refusal.conflict(
                                        "%s is %s; a box is replaced within a run where it is stuck, not on its way back, on a hop of its system, and its configuration was backed up in this run. Else set it aside, and plan the new box anew."
                                                .formatted(stuck.name, stuck.state)));
    }

    private static List<StepRecord> records(List<StepRow> rows) {
        return rows.stream().map(StepRow::record).toList();
    }

    private static int hopOf(List<StepRecord> after, StepName name) {
        return after.stream()
                .filter(record -> record.name() == name)
                .reduce((_, last) -> last)
                .orElseThrow()
                .hop();
    }

    /** Brings the rows into the order of the records; those that are there keep what they tell. */
    private void lay(UnitRow unit, List<StepRow> rows, List<StepRecord> after, String loads) {
        rows.forEach(row -> row.ordinal += OUT_OF_THE_WAY);
        steps.flush();
        int ordinal = 0;
        for (StepRecord record : after) {
            StepRow row =
                    rows.stream()
                            .filter(one -> one.is(record))
                            .findFirst()
                            .orElseGet(() -> newRow(unit, record, loads));
            row.ordinal = ++ordinal;
            row.state = record.state().toString();
            steps.save(row);
        }
        unit.state = UnitMachine.stateOf(after).toString();
    }

    private static StepRow newRow(UnitRow unit, StepRecord record, String loads) {
        StepRow added = new StepRow();
        added.unitId = unit.id();
        added.hop = record.hop();
        added.detour = record.detour();
        added.name = record.name().toString();
        added.loads = record.name() == StepName.RESCUE ? loads : null;
        return added;
    }
}
