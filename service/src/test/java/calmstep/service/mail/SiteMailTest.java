package calmstep.service.mail;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.core.fleet.Site;
import calmstep.core.step.Turn;
import calmstep.core.step.UnitState;
import calmstep.practice.Mailbox;
import calmstep.service.RunningService;
import calmstep.service.Settings;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.plans.PlanCalendars;
import calmstep.service.runs.RunViews;
import calmstep.service.runs.SiteWork;
import calmstep.service.runs.SiteWorks;
import calmstep.service.runs.SitesConcerned;
import calmstep.service.runs.SitesConcerned.Occasion;
import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
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
                RunningService.bean(SiteWorks.class),
                RunningService.bean(PlanCalendars.class),
                RunningService.bean(Fleet.class),
                RunningService.bean(Events.class),
                RunningService.bean(TransactionTemplate.class),
                settings,
                Clock.fixed(now, ZoneOffset.UTC));
    }

    private static int freePort() throws IOException {
        try (ServerSocket free = new ServerSocket(0)) {
            return free.getLocalPort();
        }
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
        int port = freePort();
        long run = run();
        for (int said = 0; said < 2; said++) {
            RunningService.inTransaction(
                    () ->
                            mail(port, NOW)
                                    .keep(
                                            new SitesConcerned(
                                                    run,
                                                    List.of(name, "nowhere"),
                                                    Occasion.BEFORE)));
        }
        mail(port, NOW).tellAll();
        assertThat(mail(port, NOW).of(name))
                .singleElement()
                .satisfies(
                        waits -> {
                            assertThat(waits.sentAt()).isNull();
                            assertThat(waits.trouble())
                                    .contains(
                                            "The mail server 127.0.0.1:%s did not take it"
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

    private static SiteWork.Unit unit(
            String device, String at, List<String> cutsOff, UnitState state) {
        return new SiteWork.Unit(
                device,
                at,
                cutsOff,
                List.of("the ticket hall"),
                "2.4.0",
                "2.8.2",
                250,
                List.of(
                        new Turn(
                                1,
                                1,
                                NOW.plusSeconds(3900),
                                NOW.plusSeconds(15_600),
                                Duration.ofMinutes(20)),
                        new Turn(
                                2,
                                2,
                                NOW.plusSeconds(90_000),
                                NOW.plusSeconds(99_000),
                                Duration.ofMinutes(30))),
                state,
                state == UnitState.SET_ASIDE ? "The part comes on Monday." : "");
    }

    /** By the site's clock, in users' words, with the times of the work and not of its windows. */
    @Test
    void theContactsReadWhatGoesDarkWhenAndWhatCameOfIt() {
        SiteWork work =
                new SiteWork(
                        "tonight",
                        "mara",
                        1,
                        List.of(
                                unit("rt-1", "", List.of("sw-1", "sw-2"), UnitState.SETTLED),
                                unit("rt-2", "", List.of(), UnitState.SET_ASIDE),
                                unit("rt-3", "The pier", List.of("sw-9"), UnitState.RETURNED)));
        Site azores =
                new Site(
                        "quay",
                        "The quay",
                        ZoneId.of("Atlantic/Azores"),
                        List.of("a@quay.example"));
        assertThat(Letter.of(work, azores, Occasion.BEFORE, Optional.empty()).text())
                .contains(
                        "rt-1: the ticket hall",
                        "2.4.0 to 2.8.2, without network for about 4 min in all, and with it sw-1"
                                + " and sw-2; Thu 3 Dec 00:15 to 00:35 and Fri 4 Dec 00:10 to 00:40"
                                + " (Atlantic/Azores)",
                        "rt-3 at The pier, over which sw-9 reaches the network: the ticket hall");
        assertThat(Letter.of(work, azores, Occasion.AFTER, Optional.empty()).text())
                .contains(
                        "done: runs 2.8.2",
                        "you are told before it is tried again\n  The part comes on Monday.\n",
                        "went back to what it ran before, 2.4.0")
                .doesNotContain("told again");
        assertThat(Letter.of(work, azores, Occasion.MOVED, Optional.empty()).subject())
                .isEqualTo("The quay: new times for the work on your network");
    }

    /** Whatever else is moved until it is sent is in the same mail. */
    @Test
    void newTimesAreToldOnceAndOnlyToWhoWasToldOthers() throws Exception {
        long run = run();
        SitesConcerned begins = new SitesConcerned(run, List.of(name), Occasion.BEFORE);
        SitesConcerned moved = new SitesConcerned(run, List.of(name), Occasion.MOVED);
        int port = freePort();
        try (Mailbox mailbox = Mailbox.open(port)) {
            SiteMail now = mail(port, NOW);
            RunningService.inTransaction(() -> now.keep(begins));
            RunningService.inTransaction(() -> now.keep(moved));
            assertThat(now.of(name)).as("the first one is not sent yet").hasSize(1);
            now.tellAll();
            for (int said = 0; said < 3; said++) {
                RunningService.inTransaction(() -> now.keep(moved));
            }
            now.tellAll();
            assertThat(mailbox.mails()).as("it gathers").hasSize(1);
            mail(port, NOW.plus(Duration.ofMinutes(1))).tellAll();
            assertThat(mailbox.mails()).hasSize(2);
            assertThat(mailbox.mails().getLast().text()).contains("new times");
        }
    }
}
