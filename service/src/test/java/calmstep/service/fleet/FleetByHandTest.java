package calmstep.service.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.fleet.Device;
import calmstep.core.fleet.InventoryText;
import calmstep.service.RunningService;
import calmstep.service.events.Event;
import calmstep.service.events.Events;
import calmstep.service.problems.Refusal;
import calmstep.service.windows.Windows;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class FleetByHandTest {
    private final Fleet fleet = RunningService.bean(Fleet.class);
    private final FleetByHand byHand = RunningService.bean(FleetByHand.class);

    private Device written(String name) {
        return fleet.require(name).written();
    }

    private Fleet.Imported table(String text) {
        return fleet.take("table.csv", text, InventoryText.Format.CSV, false, "mara");
    }

    @Test
    void anImportIsTakenBackFieldByFieldAndWhatItAddedIsGone() {
        String one = RunningService.router("serial: OS6-1", "tags: [quay]");
        String added = RunningService.name("rt");
        Device before = written(one);
        table(
                "name,family,site,zone,address,login,serial,tags\r\n%s,osmer-r6,dunmere,Europe/Lisbon,%s,steward,OS6-9,spare\r\n%s,osmer-r6,dunmere,Europe/Lisbon,127.78.2.%s,steward,OS6-8,\r\n"
                        .formatted(one, before.address(), added, 1));
        assertThat(written(one).serial()).isEqualTo("OS6-9");
        Fleet.Imported back = byHand.undo("mara");
        assertThat(written(one)).isEqualTo(before);
        assertThat(back.changes())
                .extracting(change -> change.sentence())
                .contains("%s serial: OS6-1, was OS6-9".formatted(one));
        assertThatThrownBy(() -> fleet.require(added)).isInstanceOf(Refusal.class);
        assertThat(fleet.devices()).extracting(Device::name).contains(one).doesNotContain(added);
        byHand.set(one, Map.of("serial", "OS6-7"), "mara");
        byHand.undo("mara");
        assertThat(written(one).serial()).as("each change by itself").isEqualTo("OS6-1");
    }

    @Test
    void aFieldThatIsSetLeavesAllOthersAndIsCheckedAsInAFile() {
        String one = RunningService.router("serial: OS6-1", "tags: [quay]", "serves: the hall");
        Device before = written(one);
        byHand.set(one, Map.of("address", "rt-9.dunmere.example", "tags", ""), "mara");
        assertThat(written(one).address()).isEqualTo("rt-9.dunmere.example");
        assertThat(written(one).tags()).isEmpty();
        assertThat(written(one).serves()).isEqualTo(before.serves());
        assertThatThrownBy(() -> byHand.set(one, Map.of("addres", "x"), "mara"))
                .hasMessageContaining("address");
        assertThatThrownBy(() -> byHand.set(one, Map.of("address", "10.1.1.300"), "mara"))
                .hasMessageContaining("or a host name");
    }

    /** Whoever is joined with it knows it by its new name, and its trail does not end. */
    @Test
    void aDeviceIsRenamedAndRetiredAndItsHistoryStays() {
        String one = RunningService.router();
        String other = RunningService.router("links: [%s]".formatted(one));
        String to = RunningService.name("rt-new");
        byHand.set(one, Map.of("serial", "OS6-3"), "mara");
        byHand.rename(one, to, "mara");
        assertThat(written(other).wiring().links()).containsExactly(to);
        assertThat(written(to).serial()).isEqualTo("OS6-3");
        assertThat(fleet.namesOfAny(to)).containsExactly(one, to);
        assertThatThrownBy(() -> byHand.rename(other, to, "mara"))
                .hasMessageContaining("choose another name");
        long id = fleet.idOfAny(to);
        byHand.retire(to, "scrapped", "mara");
        assertThat(fleet.devices()).extracting(Device::name).doesNotContain(to);
        assertThat(fleet.idOfAny(to)).isEqualTo(id);
        assertThat(RunningService.bean(Events.class).saidAbout(to))
                .extracting(Event::text)
                .contains("%s is retired: scrapped".formatted(to));
        assertThatThrownBy(() -> byHand.retire(to, "twice", "mara")).isInstanceOf(Refusal.class);
    }

    /** A unit that was set aside may be taken back in as long as its run is not over. */
    @Test
    void aDeviceOfAnOpenRunIsNeitherRenamedNorRetired() {
        String one = RunningService.router();
        String run = RunningService.name("open");
        long plan =
                RunningService.sql()
                        .queryForObject(
                                "insert into plan (name, target, state, body, written_by,"
                                    + " written_at, version) values (?, '', 'used', '', '', now(),"
                                    + " 0) returning id",
                                Long.class,
                                run);
        long id =
                RunningService.sql()
                        .queryForObject(
                                "insert into run (plan_id, name, state, started_by, started_at,"
                                    + " version) values (?, ?, 'held', 'mara', now(), 0) returning"
                                    + " id",
                                Long.class,
                                plan,
                                run);
        RunningService.sql()
                .update(
                        "insert into run_unit (run_id, device_id, name, plan, state, version)"
                                + " values (?, ?, ?, '{}', 'set-aside', 0)",
                        id,
                        fleet.idOfAny(one),
                        one);
        assertThatThrownBy(() -> byHand.retire(one, "scrapped", "mara"))
                .hasMessageContaining("in the run " + run);
        assertThatThrownBy(() -> byHand.rename(one, RunningService.name("rt"), "mara"))
                .hasMessageContaining("in the run " + run);
        RunningService.sql().update("update run set state = 'finished' where id = ?", id);
        byHand.retire(one, "scrapped", "mara");
    }

    @Test
    void anImportOfARetiredNameBringsItBackAndItsAddressWasFreeMeanwhile() {
        String one = RunningService.router();
        String address = written(one).address();
        long id = fleet.idOfAny(one);
        byHand.retire(one, "in the workshop", "mara");
        String line =
                """
                name,family,site,zone,address,login
                %s,osmer-r6,dunmere,Europe/Lisbon,%s,steward
                """;
        String meanwhile = RunningService.name("rt");
        table(line.formatted(meanwhile, address));
        byHand.retire(meanwhile, "the other one is back", "mara");
        table(line.formatted(one, address));
        assertThat(fleet.require(one).id()).isEqualTo(id);
    }

    @Test
    void whatLeadsNowhereIsTold() {
        String one = RunningService.router();
        Fleet.Imported done =
                byHand.set(one, Map.of("links", "rt-nowhere", "login", "steward-9"), "mara");
        assertThat(done.complaints())
                .anyMatch(complaint -> complaint.startsWith(one + " has a link to \"rt-nowhere\""))
                .anyMatch(
                        complaint ->
                                complaint.contains("the login \"steward-9\", which is not set up"));
    }

    @Test
    void textsAreUtf8OrLatin1AndNothingElse() {
        assertThat(GivenText.read("Ærø".getBytes(StandardCharsets.UTF_8))).isEqualTo("Ærø");
        assertThat(GivenText.read("Ærø".getBytes(StandardCharsets.ISO_8859_1))).isEqualTo("Ærø");
        assertThatThrownBy(() -> GivenText.read("Ærø".getBytes(StandardCharsets.UTF_16)))
                .hasMessageContaining("Save it as UTF-8");
    }

    @Test
    void aSiteIsMadeEditedAndTakenAwayWhenNothingStandsThere() {
        String site = RunningService.name("isle");
        byHand.setSite(site, Map.of("title", "The isle", "zone", "Europe/Lisbon"), "mara");
        byHand.setSite(site, Map.of("contacts", List.of("crew@isle.example")), "mara");
        assertThat(fleet.sites())
                .filteredOn(one -> one.name().equals(site))
                .singleElement()
                .satisfies(
                        one -> {
                            assertThat(one.title()).isEqualTo("The isle");
                            assertThat(one.contacts()).containsExactly("crew@isle.example");
                        });
        RunningService.router();
        assertThatThrownBy(() -> byHand.retireSite("dunmere", "mara"))
                .hasMessageContaining("Move or retire them first");
        byHand.retireSite(site, "mara");
        assertThat(fleet.hasSite(site)).isFalse();
    }

    /** Its windows must not be lost with its name, and those of others not with a site. */
    @Test
    void windowsHoldForASiteThatWasRenamedAndOutliveOneThatIsGone() {
        Windows windows = RunningService.bean(Windows.class);
        String site = RunningService.name("isle");
        String gone = RunningService.name("rock");
        for (String one : List.of(site, gone)) {
            byHand.setSite(one, Map.of("title", one, "zone", "Europe/Lisbon"), "mara");
        }
        String device = RunningService.router();
        byHand.set(device, Map.of("site", site), "mara");
        try {
            windows.take(
                    "windows.yaml",
                    "windows: 1\nkinds: { quiet: [%1$s], busy: [%2$s] }\nopen: [{ name: nights, sites: [%1$s, %2$s], rule: FREQ=DAILY, from: \"01:00\", until: \"05:00\" }]"
                            .formatted(site, gone),
                    "mara");
            String to = RunningService.name("isle");
            byHand.renameSite(site, to, "mara");
            byHand.retireSite(gone, "mara");
            assertThat(written(device).site()).isEqualTo(to);
            for (String name : List.of(site, to)) {
                assertThat(windows.next(name, Instant.now(), Duration.ofHours(1)))
                        .as("of %s, by either name", name)
                        .isPresent();
            }
            assertThatThrownBy(() -> byHand.renameSite(to, site, "mara"))
                    .hasMessageContaining("choose another name");
            assertThatThrownBy(() -> byHand.setSite(site, Map.of("title", "x"), "mara"))
                    .hasMessageContaining("is called %s now".formatted(to));
            assertThatThrownBy(() -> byHand.renameSite(to, "No Name", "mara"))
                    .hasMessageContaining("small letters");
            byHand.renameSite(to, gone, "mara");
            assertThat(windows.next(gone, Instant.now(), Duration.ofHours(1)))
                    .as("of two kinds that were two sites")
                    .isPresent();
        } finally {
            RunningService.sql().update("delete from windows_file");
        }
    }
}
