package calmstep.service.runs;

import calmstep.service.events.Event;
import calmstep.service.events.Events;
import io.swagger.v3.oas.annotations.Operation;
import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import java.security.Principal;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.format.annotation.DateTimeFormat;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api/runs")
class RunsController {
    private final Runs runs;
    private final UnitDecisions decisions;
    private final RunViews views;
    private final ShownRuns shown;
    private final Events events;
    private final Staging staging;
    private final Detours detours;
    private final Judgement judgement;
    private final ManyUnits many;
    private final GivenTurns turns;
    private final OneAnswer answers;

    RunsController(
            Runs runs,
            UnitDecisions decisions,
            RunViews views,
            ShownRuns shown,
            Events events,
            Staging staging,
            Detours detours,
            Judgement judgement,
            ManyUnits many,
            GivenTurns turns,
            OneAnswer answers) {
        this.turns = turns;
        this.answers = answers;
        this.runs = runs;
        this.decisions = decisions;
        this.views = views;
        this.shown = shown;
        this.detours = detours;
        this.judgement = judgement;
        this.many = many;
        this.events = events;
        this.staging = staging;
    }

    record NewRun(String plan) {}

    record Why(String why) {}

    record ForContacts(String text) {}

    /**
     * @param say without the end of its line
     */
    record ToSay(String say, String why) {}

    /**
     * @param serial of the box that stands there now
     */
    record Replacement(String serial, String why) {}

    /**
     * @param member as the unit names it
     * @param serial of the box that stands there now
     */
    record MemberReplacement(String member, String serial, String why) {}

    /**
     * @param image what is loaded into its memory; left out, the best one on the shelf
     */
    record With(@Nullable String image) {}

    /**
     * @param begins {@code now}, {@code next-window}, or a moment
     * @param why needed where that is outside the windows of its site
     */
    record When(String begins, @Nullable String why) {}

    @GetMapping
    @Operation(summary = "All runs, newest first, with how many units are in which state")
    List<RunSummary> all() {
        return views.all();
    }

    @GetMapping(value = "/{name}", produces = MediaType.APPLICATION_JSON_VALUE)
    @Operation(
            summary =
                    "A run with its units and their steps; a large one may be a few seconds old,"
                            + " but for what the event of the number since has done")
    @ApiResponse(
            responseCode = "200",
            content = @Content(schema = @Schema(implementation = RunView.class)))
    ResponseEntity<byte[]> one(
            @PathVariable String name,
            @RequestParam(defaultValue = "0") long since,
            @RequestHeader(value = HttpHeaders.ACCEPT_ENCODING, defaultValue = "") String takes) {
        ShownRuns.Shown run = shown.of(name, since);
        return answer(takes, run);
    }

    private static ResponseEntity<byte[]> answer(String takes, ShownRuns.Shown run) {
        ResponseEntity.BodyBuilder answer =
                ResponseEntity.ok()
                        .contentType(MediaType.APPLICATION_JSON)
                        .varyBy(HttpHeaders.ACCEPT_ENCODING);
        return takes.contains("gzip")
                ? answer.header(HttpHeaders.CONTENT_ENCODING, "gzip").body(run.packed())
                : answer.body(run.json());
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    @Operation(
            summary =
                    "Start a run of an approved plan; a plan is used once, so repeating the call"
                            + " starts nothing")
    RunView start(@RequestBody NewRun run, Principal who) {
        return runs.start(run.plan(), who.getName());
    }

    @PostMapping("/{name}/hold")
    @Operation(
            summary =
                    "Hold a run, or its units at one site or of one night: steps in flight end,"
                            + " nothing new begins")
    RunView hold(
            @PathVariable String name,
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(required = false) @DateTimeFormat(iso = DateTimeFormat.ISO.DATE)
                    @Nullable LocalDate night,
            Principal who) {
        ManyUnits.Those those = ManyUnits.Those.of(site, night);
        return those.areAll()
                ? runs.hold(name, who.getName())
                : many.hold(name, those, true, who.getName());
    }

    @PostMapping("/{name}/resumption")
    @Operation(summary = "Let a run go on, or its units at one site or of one night")
    RunView resume(
            @PathVariable String name,
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(required = false) @DateTimeFormat(iso = DateTimeFormat.ISO.DATE)
                    @Nullable LocalDate night,
            Principal who) {
        ManyUnits.Those those = ManyUnits.Those.of(site, night);
        return those.areAll()
                ? runs.resume(name, who.getName())
                : many.hold(name, those, false, who.getName());
    }

    @PostMapping("/{name}/go")
    @Operation(
            summary =
                    "Say go for all units that stand at their gate, or for those at one site or of"
                            + " one night")
    RunView goAll(
            @PathVariable String name,
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(required = false) @DateTimeFormat(iso = DateTimeFormat.ISO.DATE)
                    @Nullable LocalDate night,
            Principal who) {
        return many.go(name, ManyUnits.Those.of(site, night), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/acceptance")
    @Operation(summary = "Bear what was odd about a unit when its watch was over, with a reason")
    RunView accept(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Why why,
            Principal who) {
        return judgement.of(name, unit, true, why.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/refusal")
    @Operation(
            summary =
                    "Do not bear what was odd about a unit, with a reason: it is stuck then, and"
                            + " can still go back")
    RunView refuse(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Why why,
            Principal who) {
        return judgement.of(name, unit, false, why.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/go")
    @Operation(summary = "Say go at the gate of a unit")
    RunView go(@PathVariable String name, @PathVariable String unit, Principal who) {
        return runs.go(name, unit, who.getName());
    }

    @PostMapping("/{name}/units/{unit}/turn")
    @Operation(
            summary =
                    "Say when a unit begins its next part: now, in the next window of its site, or"
                            + " at a moment")
    RunView turn(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody When when,
            Principal who) {
        return turns.turn(
                name, unit, when.begins(), when.why() == null ? "" : when.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/retry")
    @Operation(summary = "Try the failed step of a unit again; it looks first")
    RunView retry(@PathVariable String name, @PathVariable String unit, Principal who) {
        return decisions.retry(name, unit, who.getName());
    }

    @PostMapping("/{name}/units/{unit}/answer")
    @Operation(
            summary =
                    "Have the question that a unit is stuck at answered, once, with a reason; the"
                            + " step is tried again")
    RunView answer(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody ToSay answer,
            Principal who) {
        return answers.give(name, unit, answer.say(), answer.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/rescue")
    @Operation(
            summary =
                    "Start a device that stopped in its boot loader from memory, over its console"
                        + " line; then its image is proven and chosen anew, and it has to start by"
                        + " itself")
    RunView rescue(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody With with,
            Principal who) {
        return detours.rescue(name, unit, Optional.ofNullable(with.image()), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/return")
    @Operation(
            summary =
                    "Take a unit that is stuck behind its boot choice back to what it ran, its"
                            + " configuration with it, with a reason")
    RunView goBack(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Why why,
            Principal who) {
        return detours.goBack(name, unit, why.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/again")
    @Operation(
            summary =
                    "Have a unit that came back on what it ran before choose its image and restart"
                            + " once more, with a reason")
    RunView again(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Why why,
            Principal who) {
        return detours.again(name, unit, why.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/take-over")
    @Operation(
            summary =
                    "Take the configuration of a unit that is stuck before its boot choice over as"
                            + " it stands on the device, with a reason; it is backed up anew")
    RunView takeOver(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Why why,
            Principal who) {
        return detours.takeOver(name, unit, why.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/replacement")
    @Operation(
            summary =
                    "Another box stands where a unit is stuck: meet it, bring it to the release of"
                            + " the hop, give it the backed-up configuration, and prove it, with a"
                            + " reason")
    RunView replace(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Replacement box,
            Principal who) {
        return detours.replace(name, unit, box.serial().strip(), box.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/member-replacement")
    @Operation(
            summary =
                    "Another box stands in the place of a member of a unit that is stuck because it"
                        + " was out: look at it, bring the hop's image to all members once more,"
                        + " and restart who does not run it yet, with a reason")
    RunView replaceMember(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody MemberReplacement box,
            Principal who) {
        return detours.replaceMember(
                name, unit, box.member().strip(), box.serial().strip(), box.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/without")
    @Operation(
            summary =
                    "Go on with a unit that is stuck because members of it are out, without them as"
                            + " long as they are, with a reason")
    RunView goOnWithout(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Why why,
            Principal who) {
        return decisions.goOnWithout(name, unit, why.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/skip")
    @Operation(
            summary =
                    "Leave the failed step of a unit out, with a reason; only where nothing behind"
                            + " it builds upon it")
    RunView skip(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Why why,
            Principal who) {
        return decisions.skip(name, unit, why.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/hold")
    @Operation(summary = "Hold a unit: a step in flight ends, nothing new begins on it")
    RunView holdUnit(@PathVariable String name, @PathVariable String unit, Principal who) {
        return runs.holdUnit(name, unit, true, who.getName());
    }

    @PostMapping("/{name}/units/{unit}/resumption")
    RunView resumeUnit(@PathVariable String name, @PathVariable String unit, Principal who) {
        return runs.holdUnit(name, unit, false, who.getName());
    }

    @PostMapping("/{name}/units/{unit}/take-in")
    @Operation(
            summary =
                    "Take a unit back in that was set aside; it goes on where it stood, and looks"
                            + " first")
    RunView takeIn(@PathVariable String name, @PathVariable String unit, Principal who) {
        return decisions.takeIn(name, unit, who.getName());
    }

    @PostMapping("/{name}/abandonment")
    @Operation(
            summary =
                    "End a run for good, with a reason: steps in flight end, nothing new begins,"
                            + " each unit stays as it stands")
    RunView abandon(@PathVariable String name, @RequestBody Why why, Principal who) {
        return runs.abandon(name, why.why(), who.getName());
    }

    @PostMapping("/{name}/end")
    @Operation(
            summary =
                    "End a run of which nothing is open any more: its last unit was set aside, and"
                            + " none is taken back in")
    RunView end(@PathVariable String name, Principal who) {
        return runs.end(name, who.getName());
    }

    @PostMapping("/{name}/units/{unit}/set-aside")
    @Operation(summary = "Take a unit out of the run as it stands, with a reason")
    RunView setAside(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody Why why,
            Principal who) {
        return decisions.setAside(name, unit, why.why(), who.getName());
    }

    @PostMapping("/{name}/units/{unit}/word-for-contacts")
    @Operation(
            summary =
                    "Write something for the contacts of the sites that a unit concerns: it stands"
                            + " in their next mail. Reasons that are given elsewhere stay with"
                            + " colleagues")
    RunView writeForContacts(
            @PathVariable String name,
            @PathVariable String unit,
            @RequestBody ForContacts word,
            Principal who) {
        return decisions.writeForContacts(name, unit, word.text(), who.getName());
    }

    @GetMapping("/{name}/staging")
    @Operation(
            summary =
                    "How far the images of a run are on their way to the devices, hop by hop, with"
                            + " rate and time left")
    List<Staging.HopStaging> staging(@PathVariable String name) {
        return staging.of(name);
    }

    @GetMapping("/{name}/events")
    List<Event> events(@PathVariable String name) {
        return events.ofRun(runs.idOf(name));
    }

    @GetMapping("/{name}/units/{unit}/talk")
    @Operation(summary = "Everything typed to the device and answered, secrets masked")
    List<RunViews.TalkLine> talk(@PathVariable String name, @PathVariable String unit) {
        return views.talkOf(name, unit);
    }
}
