package calmstep.service.backups;

import calmstep.core.compare.ConfigurationComparison;
import calmstep.service.fleet.Chosen;
import calmstep.service.jobs.Jobs;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
class BackupController {
    private final BackupStore store;
    private final TakeBackups takeBackups;
    private final PutBack putBack;
    private final GetOut getOut;
    private final Jobs jobs;
    private final Chosen chosen;

    BackupController(
            BackupStore store,
            TakeBackups takeBackups,
            PutBack putBack,
            GetOut getOut,
            Jobs jobs,
            Chosen chosen) {
        this.store = store;
        this.takeBackups = takeBackups;
        this.putBack = putBack;
        this.getOut = getOut;
        this.jobs = jobs;
        this.chosen = chosen;
    }

    /**
     * @param where a selection, where no devices are named
     */
    record ToBackUp(List<String> devices, @Nullable String where) {}

    @PostMapping("/api/backups")
    @ResponseStatus(HttpStatus.ACCEPTED)
    @Operation(
            summary =
                    "Back up the devices that are named, or that a selection means; neither means"
                            + " all. Answers with a job")
    Jobs.JobView take(@RequestBody ToBackUp wanted, Principal who) {
        return jobs.require(
                takeBackups.start(chosen.require(wanted.devices(), wanted.where()), who.getName()));
    }

    /**
     * @param same whether nothing differs but lines that mean nothing
     * @param dropped lines that were there before
     * @param added lines that were not
     */
    record Comparison(boolean same, List<String> dropped, List<String> added) {
        static Comparison of(ConfigurationComparison c) {
            return new Comparison(c.isSame(), c.dropped(), c.added());
        }
    }

    @GetMapping("/api/devices/{name}/backups/{id}/comparison")
    @Operation(
            summary =
                    "A backup against another one, or against what runs now where no other is"
                            + " named; secrets masked")
    Comparison compare(
            @PathVariable String name, @PathVariable long id, @RequestParam @Nullable Long with) {
        return Comparison.of(
                with == null ? putBack.withRunning(name, id) : store.compare(name, id, with));
    }

    @PostMapping("/api/devices/{name}/backups/{id}/put-back")
    @Operation(
            summary =
                    "Write a backup into its device, or into the unit that replaces it; a"
                            + " configuration is saved. Answers with what differs afterwards")
    Comparison putBack(@PathVariable String name, @PathVariable long id, Principal who) {
        return Comparison.of(putBack.put(name, id, who.getName()));
    }

    @GetMapping("/api/devices/{name}/backups")
    List<BackupStore.BackupView> backups(@PathVariable String name) {
        return store.ofDevice(name);
    }

    /**
     * @param kinds what its family can give
     * @param cannotGive what is worth keeping and cannot be pulled off
     */
    record Keeps(List<String> kinds, List<String> cannotGive) {}

    @GetMapping("/api/devices/{name}/keeps")
    @Operation(summary = "What is kept when a device is backed up, and what its family cannot give")
    Keeps keeps(@PathVariable String name) {
        return store.keeps(name);
    }

    /**
     * @param why kept in the trail
     */
    record ToGetOut(@Nullable String why) {}

    @PostMapping(
            path = "/api/devices/{name}/backups/{id}/clear-text",
            produces = "text/plain;charset=UTF-8")
    @PreAuthorize("hasRole('admin')")
    @Operation(
            summary =
                    "What was kept with its secrets in clear, for whoever gives it to a device by"
                            + " hand. The trail tells who got it out, and why")
    String clearText(
            @PathVariable String name,
            @PathVariable long id,
            @RequestBody ToGetOut wanted,
            Principal who) {
        return getOut.clear(name, id, who.getName(), Objects.requireNonNullElse(wanted.why(), ""));
    }

    @GetMapping(path = "/api/devices/{name}/backups/{id}/text", produces = "text/plain")
    @Operation(summary = "The configuration as it was kept, with its secrets masked")
    String text(@PathVariable String name, @PathVariable long id) {
        return store.masked(name, id);
    }
}
