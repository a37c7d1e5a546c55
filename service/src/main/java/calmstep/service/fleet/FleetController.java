package calmstep.service.fleet;

import calmstep.core.compare.Change;
import calmstep.core.compare.ReadingChanges;
import calmstep.core.fleet.Inventory;
import calmstep.core.fleet.InventoryText;
import calmstep.core.fleet.InventoryTree;
import calmstep.core.fleet.Reading;
import calmstep.dialect.SnmpLogin;
import calmstep.dialect.SshSecret;
import calmstep.service.jobs.Jobs;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import io.swagger.v3.oas.annotations.Operation;
import java.security.Principal;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api")
class FleetController {
    private final Fleet fleet;
    private final Logins logins;
    private final ReadDevices readDevices;
    private final Jobs jobs;
    private final Chosen chosen;
    private final KeptStopKeys stopKeys;
    private final Json json;

    FleetController(
            Fleet fleet,
            Logins logins,
            ReadDevices readDevices,
            Jobs jobs,
            Chosen chosen,
            KeptStopKeys stopKeys,
            Json json) {
        this.fleet = fleet;
        this.logins = logins;
        this.readDevices = readDevices;
        this.jobs = jobs;
        this.chosen = chosen;
        this.stopKeys = stopKeys;
        this.json = json;
    }

    /**
     * @param user empty for an SNMP community
     * @param password also the community's word, and the authentication password of an SNMP v3 user
     */
    record Login(
            String user,
            String password,
            @Nullable String key,
            @Nullable Boolean agent,
            @Nullable Snmp snmp) {
        /**
         * @param version {@code v2c} or {@code v3}
         * @param authentication {@code sha1}, {@code sha256} or {@code sha512}; v3 only
         * @param privacy {@code none}, {@code aes128} or {@code aes256}; v3 only
         * @param privacyPassword v3 with privacy only
         */
        record Snmp(
                String version,
                @Nullable String authentication,
                @Nullable String privacy,
                @Nullable String privacyPassword) {
            SnmpLogin login(String user, String password) {
                if (version.equals("v2c")) {
                    return new SnmpLogin.Community(password);
                }
                if (!version.equals("v3")) {
                    throw Refusal.wrong(
                            "Expected the SNMP version v2c or v3, saw \"%s\".".formatted(version));
                }
                SnmpLogin.User login;
                try {
                    login =
                            new SnmpLogin.User(
                                    user,
                                    SnmpLogin.Authentication.parse(
                                            authentication == null ? "sha256" : authentication),
                                    password,
                                    SnmpLogin.Privacy.parse(privacy == null ? "aes128" : privacy),
                                    privacyPassword == null ? "" : privacyPassword);
                } catch (IllegalArgumentException unknown) {
                    throw Refusal.wrong(
                            "Expected authentication sha1, sha256 or sha512 and privacy none, aes128 or aes256; saw \"%s\" and \"%s\"."
                                    .formatted(authentication, privacy));
                }
                if (!login.isLongEnough()) {
                    throw Refusal.wrong(
                            "Expected SNMP v3 passwords of at least 8 characters (RFC 3414);"
                                    + " nothing was kept.");
                }
                return login;
            }
        }
    }

    /**
     * @param where devices that a selection means, used when none is named; both empty means all
     */
    record ToRead(List<String> devices, @Nullable String where) {}

    @PostMapping(
            path = "/inventory",
            consumes = {"application/yaml", "application/json", "text/csv"})
    @Operation(summary = "Import an inventory file (YAML, JSON, or CSV), as a whole or not at all")
    Fleet.Imported take(
            @RequestBody byte[] bytes,
            @RequestHeader("Content-Type") String type,
            @RequestParam(defaultValue = "inventory.yaml") String file,
            @RequestParam(defaultValue = "false") boolean preview,
            Principal who) {
        return fleet.take(
                file,
                GivenText.read(bytes),
                type.startsWith("text/csv") ? InventoryText.Format.CSV : InventoryText.Format.YAML,
                preview,
                who.getName());
    }

    @GetMapping(
            path = "/inventory",
            produces = {"application/yaml", "text/csv", "application/json"})
    @Operation(summary = "Export the inventory of a selection; as = yaml, csv or json")
    ResponseEntity<String> inventory(
            @RequestParam(defaultValue = "yaml") String as,
            @RequestParam(defaultValue = "") String where) {
        Inventory inventory = fleet.inventory(chosen.names(where));
        return switch (as) {
            case "yaml" ->
                    ResponseEntity.ok()
                            .contentType(MediaType.parseMediaType("application/yaml"))
                            .body(InventoryText.write(inventory, InventoryText.Format.YAML));
            case "csv" ->
                    ResponseEntity.ok()
                            .contentType(MediaType.parseMediaType("text/csv;charset=UTF-8"))
                            .body(InventoryText.write(inventory, InventoryText.Format.CSV));
            case "json" ->
                    ResponseEntity.ok()
                            .contentType(MediaType.APPLICATION_JSON)
                            .body(json.write(InventoryTree.of(inventory)));
            default ->
                    throw Refusal.wrong(
                            "Expected as=yaml, as=csv or as=json, saw \"%s\".".formatted(as));
        };
    }

    @PutMapping("/logins/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(summary = "Set the user and password that open devices; they never come back out")
    void setLogin(@PathVariable String name, @RequestBody Login login, Principal who) {
        boolean agent = Boolean.TRUE.equals(login.agent());
        if (Stream.of(login.key() != null, agent, login.snmp() != null)
                        .filter(given -> given)
                        .count()
                > 1) {
            throw Refusal.wrong(
                    "Expected one of a key, the agent's keys, and a login for SNMP; saw more than"
                            + " one.");
        } else if (agent) {
            logins.setAgent(name, login.user(), who.getName());
        } else if (login.key() != null) {
            logins.set(
                    name,
                    login.user(),
                    new SshSecret.Key(login.key(), login.password()),
                    who.getName());
        } else if (login.snmp() == null) {
            logins.set(name, login.user(), login.password(), who.getName());
        } else {
            logins.set(name, login.snmp().login(login.user(), login.password()), who.getName());
        }
    }

    @GetMapping("/devices/{name}/readings")
    List<Reading> readings(@PathVariable String name) {
        return fleet.readings(name);
    }

    /** What changed from one reading to the next. */
    record ChangesView(Instant since, Instant at, List<String> changes) {}

    @GetMapping("/devices/{name}/changes")
    @Operation(
            summary =
                    "What changed on a device between its newest 20 readings, newest first;"
                            + " readings that differ in nothing are left out")
    List<ChangesView> changes(@PathVariable String name) {
        return ReadingChanges.of(fleet.readings(name)).stream()
                .map(
                        c ->
                                new ChangesView(
                                        c.since(),
                                        c.at(),
                                        c.changes().stream().map(Change::sentence).toList()))
                .toList();
    }

    @DeleteMapping("/devices/{name}/host-key")
    @PreAuthorize("hasRole('approver')")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(summary = "Forget the host key of a device that was replaced")
    void forgetHostKey(@PathVariable String name, Principal who) {
        fleet.forgetHostKey(name, who.getName());
    }

    @DeleteMapping("/stops/{place}/host-key")
    @PreAuthorize("hasRole('approver')")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Operation(
            summary =
                    "Forget the host key of a jump host or console server that was replaced, by"
                            + " HOST:PORT")
    void forgetStopKey(@PathVariable String place, Principal who) {
        stopKeys.forget(place, who.getName());
    }

    @GetMapping("/readings/freshness")
    @Operation(summary = "How old what is known of the fleet is")
    Fleet.Freshness freshness() {
        return fleet.freshness();
    }

    @PostMapping("/readings")
    @ResponseStatus(HttpStatus.ACCEPTED)
    @Operation(
            summary =
                    "Read the devices that are named, or that a selection means; neither means all."
                            + " Answers with a job")
    Jobs.JobView read(@RequestBody ToRead wanted, Principal who) {
        return jobs.require(
                readDevices.start(chosen.require(wanted.devices(), wanted.where()), who.getName()));
    }
}
