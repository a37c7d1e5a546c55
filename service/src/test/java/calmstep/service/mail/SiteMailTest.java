package calmstep.service.mail;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Site;
import calmstep.practice.Mailbox;
import calmstep.service.RunningService;
import calmstep.service.Settings;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.runs.RunView;
import calmstep.service.runs.RunView.TurnView;
import calmstep.service.runs.RunView.UnitInRun;
import calmstep.service.runs.RunViews;
import calmstep.service.runs.SitesConcerned;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.support.TransactionTemplate;

class SiteMailTest {
    private static final Instant NOW = Instant.parse("2026-12-03T00:10:00Z");
    private final JdbcTemplate sql = RunningService.sql();
    private final String name = RunningService.name("quay");

    private SiteMail mail(int port, Instant now) {
        Settings settings =
                new Settings(
                        Path.of(""),
                        Path.of(""),
                        Path.of(""),
                        1,
                        0,
                        "",
                        new Settings.MailSettings(
                                "127.0.0.1", port, "calm-step@northmere.example", "", "", false),
                        new Settings.ShelfSettings("", "", 0, 0, 0, ""));
        return new SiteMail(
                RunningService.bean(MailRows.class),
                RunningService.bean(RunViews.class),
                RunningService.bean(Fleet.class),
                RunningService.bean(Events.class),
                RunningService.bean(TransactionTemplate.class),
                settings,
                Clock.fixed(now, ZoneOffset.UTC));
    }

    private long run() {
        sql.update(
                "insert into site (name, title, zone, contacts) values (?, 'The quay',"
                        + " 'Europe/Lisbon', 'a@quay.example b@quay.example')",
                name);
        long plan =
                sql.queryForObject(
                        "insert into plan (name, target, state, body, written_by, written_at,"
                                + " version) values (?, '', 'used', '', '', now(), 0) returning id",
                        Long.class,
                        name);
        return sql.queryForObject(
                "insert into run (plan_id, name, state, started_by, started_at, version) values (?,"
                        + " ?, 'under-way', 'mara', now(), 0) returning id",
                Long.class,
                plan,
                name);
    }

    /**
     * However long the mail server is away, and however often it is said that somebody is to be
     * told: once.
     */
    @Test
    void aServerThatIsAwayGetsItLaterAndOnce() throws Exception {
        int port;
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        long run = run();
        for (int said = 0; said < 2; said++) {
            RunningService.inTransaction(
                    () ->
                            mail(port, NOW)
                                    .keep(
                                            new SitesConcerned(
                                                    run, List.of(name, "nowhere"), false)));
        }
        mail(port, NOW).tellAll();
        assertThat(mail(port, NOW).of(name))
                .singleElement()
                .satisfies(
                        waits -> {
                            assertThat(waits.sentAt()).isNull();
                            assertThat(waits.trouble())
                                    .contains(
                                            "The mail server 127.0.0.1:%d did not take it"
                                                    .formatted(port));
                            assertThat(waits.contacts())
                                    .containsExactly("a@quay.example", "b@quay.example");
                        });
        try (Mailbox mailbox = Mailbox.open(port)) {
            mail(port, NOW).tellAll();
            assertThat(mailbox.mails()).as("its pause is not over").isEmpty();
            for (int round = 0; round < 3; round++) {
                mail(port, NOW.plus(Duration.ofMinutes(1))).tellAll();
            }
            assertThat(mailbox.mails())
                    .singleElement()
                    .satisfies(
                            sent -> {
                                assertThat(sent.to())
                                        .containsExactly("a@quay.example", "b@quay.example");
                                assertThat(sent.from()).isEqualTo("calm-step@northmere.example");
                                assertThat(sent.text())
                                        .contains("Subject: The quay: work on your network");
                            });
        }
        assertThat(mail(port, NOW).of(name))
                .singleElement()
                .satisfies(sent -> assertThat(sent.trouble()).isEmpty());
    }

    private static UnitInRun unit(String device, String site, String state, String setAsideWhy) {
        TurnView turn =
                new TurnView(
                        1,
                        1,
                        NOW.plusSeconds(3900),
                        NOW.plusSeconds(15_600),
                        1200,
                        false,
                        "",
                        "",
                        1.0);
        return new UnitInRun(
                1,
                device,
                site,
                "",
                "",
                "the ticket hall",
                "2.4.0",
                "2.8.2",
                state,
                1,
                250,
                600,
                null,
                null,
                turn,
                false,
                null,
                setAsideWhy.isEmpty() ? null : setAsideWhy,
                null,
                List.of());
    }

    /** By the site's clock, in users' words, and of that site alone. */
    @Test
    void theContactsReadWhatGoesDarkWhenAndWhatCameOfIt() {
        RunView run =
                new RunView(
                        1,
                        "tonight",
                        "tonight",
                        "under-way",
                        "mara",
                        NOW,
                        null,
                        false,
                        "",
                        1,
                        List.of(
                                unit("rt-1", "quay", "settled", ""),
                                unit("rt-2", "quay", "set-aside", "its flash is worn"),
                                unit("rt-3", "pier", "settled", "")));
        Site azores =
                new Site(
                        "quay",
                        "The quay",
                        ZoneId.of("Atlantic/Azores"),
                        List.of("a@quay.example"));
        assertThat(Letter.of(run, azores, false).text())
                .contains(
                        "rt-1: the ticket hall",
                        "2.4.0 to 2.8.2, without network for about 4 min in all; not before Thu 3"
                                + " Dec 00:15, over by Thu 3 Dec 03:30 (Atlantic/Azores)")
                .doesNotContain("rt-3");
        assertThat(Letter.of(run, azores, true).text())
                .contains("done: runs 2.8.2", "not finished: its flash is worn")
                .doesNotContain("told again");
    }
}
