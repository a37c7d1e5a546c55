package calmstep.service.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.core.fleet.InventoryText;
import calmstep.core.text.RejectedText;
import calmstep.service.RunningService;
import java.util.List;
import org.junit.jupiter.api.Test;

class FleetTest {
    private final Fleet fleet = RunningService.bean(Fleet.class);

    @Test
    void anImportSaysWhatItAddsChangesAndLeavesAndAPreviewDoesNothing() {
        String name = RunningService.name("rt-import");
        String text = RunningService.inventory(name, "127.78.0.1");
        assertThat(fleet.take("i.yaml", text, InventoryText.Format.YAML, true, "mara").added())
                .containsExactly(name);
        assertThatThrownBy(() -> fleet.require(name)).hasMessageContaining(name);

        assertThat(fleet.take("i.yaml", text, InventoryText.Format.YAML, false, "mara").added())
                .containsExactly(name);
        assertThat(fleet.take("i.yaml", text, InventoryText.Format.YAML, false, "mara").unchanged())
                .containsExactly(name);
        String changed = RunningService.inventory(name, "127.78.0.1", "role: spare");
        assertThat(fleet.take("i.yaml", changed, InventoryText.Format.YAML, true, "mara").changed())
                .containsExactly(name);
        assertThat(fleet.require(name).device().role()).isEmpty();
        fleet.take("i.yaml", changed, InventoryText.Format.YAML, false, "mara");
        assertThat(fleet.require(name).device().role()).isEqualTo("spare");
    }

    @Test
    void oneWrongLineKeepsTheWholeFileOut() {
        String good = RunningService.name("rt-good");
        String text =
                RunningService.inventory(good, "127.78.1.1")
                        + "  - { name: rt-bad, family: osmer-r9, site: dunmere, address:"
                        + " 10.9.9.300, login: steward }\n";
        assertThatThrownBy(
                        () -> fleet.take("i.yaml", text, InventoryText.Format.YAML, false, "mara"))
                .isInstanceOfSatisfying(
                        RejectedText.class,
                        rejected ->
                                assertThat(rejected.complaints())
                                        .hasSize(2)
                                        .allSatisfy(c -> assertThat(c.toString()).contains("5:")));
        assertThatThrownBy(() -> fleet.require(good)).hasMessageContaining(good);
    }

    @Test
    void anAddressBelongsToOneDeviceUnlessBothMoveInTheSameFile() {
        String first = RunningService.name("rt-swap");
        String second = RunningService.name("rt-swap");
        fleet.take(
                "i.yaml",
                RunningService.inventory(first, "127.78.2.1"),
                InventoryText.Format.YAML,
                false,
                "mara");
        fleet.take(
                "i.yaml",
                RunningService.inventory(second, "127.78.2.2"),
                InventoryText.Format.YAML,
                false,
                "mara");
        assertThatThrownBy(
                        () ->
                                fleet.take(
                                        "i.yaml",
                                        RunningService.inventory(second, "127.78.2.1"),
                                        InventoryText.Format.YAML,
                                        false,
                                        "mara"))
                .hasMessageContaining("127.78.2.1")
                .hasMessageContaining(first)
                .hasMessageContaining("Nothing was taken over");
        assertThat(fleet.require(second).device().address()).isEqualTo("127.78.2.2");
    }

    @Test
    void theFirstHostKeyIsKeptUntilSomebodySaysThatTheDeviceWasReplaced() {
        String router = RunningService.router();
        fleet.rememberHostKey(router, "SHA256:first");
        fleet.rememberHostKey(router, "SHA256:other");
        assertThat(fleet.require(router).hostKey()).isEqualTo("SHA256:first");
        fleet.forgetHostKey(router, "jon");
        fleet.rememberHostKey(router, "SHA256:other");
        assertThat(fleet.require(router).hostKey()).isEqualTo("SHA256:other");
        assertThat(
                        RunningService.sql()
                                .queryForList(
                                        "select who from event where subject = ? and text like"
                                                + " '%forgotten%'",
                                        String.class, router))
                .containsExactly("jon");
    }

    @Test
    void readingsStandBesideEachOtherNewestFirstAndASilenceShowsOnlyWhileItIsNewer() {
        String router = RunningService.router();
        RunningService.keep(router, RunningService.reading("2.4.0"));
        fleet.keepSilence(
                fleet.require(router).id(),
                router,
                new calmstep.core.device.Trouble("an answer", "none", "Look at its power."));
        assertThat(fleet.require(router).silent())
                .hasValueSatisfying(s -> assertThat(s.remedy()).isEqualTo("Look at its power."));
        RunningService.keep(router, RunningService.reading("2.6.3"));
        assertThat(fleet.require(router).silent()).isEmpty();
        assertThat(fleet.readings(router))
                .extracting(r -> r.system())
                .containsExactly("2.6.3", "2.4.0");
        assertThatThrownBy(() -> RunningService.sql().update("update reading set body = '{}'"))
                .hasMessageContaining("only ever added");
    }

    @Test
    void aLoginIsSealedAndNeverInTheDatabaseInPlain() {
        RunningService.bean(Logins.class)
                .set(RunningService.name("login"), "steward", "not-in-the-database-7", "mara");
        List<String> columns =
                RunningService.sql()
                        .queryForList(
                                "select encode(secret, 'escape') || user_name || changed_by from"
                                        + " login",
                                String.class);
        assertThat(columns).isNotEmpty().noneMatch(c -> c.contains("not-in-the-database-7"));
        assertThat(RunningService.sql().queryForList("select text from event", String.class))
                .noneMatch(t -> t.contains("not-in-the-database-7"));
    }

    @Test
    void aDeviceWhoseLoginHasNoPasswordCannotBeOpenedAndTheRemedyIsACommand() {
        String name = RunningService.name("rt-locked");
        String login = RunningService.name("login");
        fleet.take(
                "i.yaml",
                RunningService.inventory(name, "127.78.3.1")
                        .replace("login: steward", "login: " + login),
                InventoryText.Format.YAML,
                false,
                "mara");
        assertThatThrownBy(
                        () ->
                                RunningService.bean(DeviceDoors.class)
                                        .door(name, calmstep.dialect.Talk.NONE))
                .hasMessageContaining("calmstep fleet login " + login);
    }
}
