package calmstep.service.notices;

import calmstep.core.patience.GrowingPause;
import calmstep.service.events.Events;
import calmstep.service.problems.Refusal;
import calmstep.service.secrets.SecretBox;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import java.io.IOException;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.transaction.support.TransactionTemplate;

/** Who is told, and the telling. */
@Configuration
class Notices {
    /** What is worth a notice, unless somebody asks for more. */
    static final String USUAL = "run unit gate";

    private static final Logger LOG = LoggerFactory.getLogger(Notices.class);
    private static final Set<String> KINDS =
            Set.of(
                    "run",
                    "unit",
                    "gate",
                    "step",
                    "plan",
                    "shelf",
                    "releases",
                    "fleet",
                    "backups",
                    "people");
    private static final Set<String> SCHEMES = Set.of("http", "https", "udp", "tcp");
    private static final GrowingPause PAUSE =
            new GrowingPause(Duration.ofSeconds(2), Duration.ofMinutes(5));
    private static final int AT_ONCE = 200;

    /** Rehearsals disturb nobody. */
    private static final String NEXT =
            """
            select e.id, e.at, e.kind, e.subject, r.name as run, e.who, e.text, e.hash from event e left join run r on r.id = e.run_id
             where e.id > ? and (r.id is null or not r.rehearsal) and e.kind in (%s) order by e.id limit %s\
            """;

    private final NoticeTargets targets;
    private final Postman postman;
    private final SecretBox secrets;
    private final Events events;
    private final JdbcClient sql;
    private final TransactionTemplate transactions;
    private final Clock clock;

    Notices(
            NoticeTargets targets,
            Postman postman,
            SecretBox secrets,
            Events events,
            JdbcClient sql,
            TransactionTemplate transactions,
            Clock clock) {
        this.targets = targets;
        this.postman = postman;
        this.secrets = secrets;
        this.events = events;
        this.sql = sql;
        this.transactions = transactions;
        this.clock = clock;
    }

    /**
     * @param about kinds of events that it is told
     * @param signed whether notices to it are signed with a secret
     * @param quiets whether it is an alarm system that is quieted for what is in work
     * @param toldTo number of the last event that it was told of
     * @param trouble why it was not told the next one; empty where it was
     * @param nextAt when it is tried again; null where nothing keeps it
     */
    record TargetView(
            String name,
            String address,
            List<String> about,
            boolean signed,
            boolean quiets,
            long toldTo,
            String trouble,
            int tries,
            @Nullable Instant nextAt,
            String addedBy,
            Instant addedAt) {
        static TargetView of(NoticeTarget t) {
            return new TargetView(
                    t.name,
                    t.address,
                    t.kinds(),
                    t.secret != null,
                    t.quiets,
                    t.toldTo,
                    t.trouble,
                    t.tries,
                    t.trouble.isEmpty() ? null : t.nextAt,
                    t.addedBy,
                    t.addedAt);
        }
    }

    /**
     * @param address {@code https://…} or {@code http://…} for a webhook, {@code udp://host:port}
     *     or {@code tcp://host:port} for syslog
     * @param secret signs what is posted; null keeps what is there, empty takes it away
     * @param about kinds of events; null or empty for the usual ones
     * @param quiets whether it is an alarm system that is quieted for what is in work; null keeps
     *     what is there
     */
    record TargetToSet(
            String address,
            @Nullable String secret,
            @Nullable List<String> about,
            @Nullable Boolean quiets) {}

    List<TargetView> all() {
        return targets.findAllByOrderByName().stream().map(TargetView::of).toList();
    }

    /** From now on; what happened before it is told to nobody new. */
    TargetView set(String name, TargetToSet wanted, String who) {
        String address = checked(wanted.address());
        List<String> about =
                wanted.about() == null || wanted.about().isEmpty()
                        ? List.of(USUAL.split(" "))
                        : wanted.about();
        mustBeKnown(about);
        return Optional.ofNullable(
                        transactions.execute(
                                _ -> {
                                    NoticeTarget target =
                                            targets.findByName(name)
                                                    .orElseGet(() -> fresh(name, who));
                                    target.address = address;
                                    target.about = String.join(" ", about);
                                    takeOver(target, wanted, address);
                                    target.tries = 0;
                                    target.nextAt = clock.instant();
                                    target.trouble = "";
                                    targets.saveAndFlush(target);
                                    tellSet(name, who, address, about, target);
                                    return TargetView.of(target);
                                }))
                .orElseThrow();
    }

    private void tellSet(
            String name, String who, String address, List<String> about, NoticeTarget target) {
        events.append(
                Optional.empty(),
                name,
                "people",
                who,
                "%s has %s told at %s about %s%s."
                        .formatted(
                                who,
                                name,
                                address,
                                String.join(", ", about),
                                target.quiets ? ", and quieted for what is in" + " work" : ""));
    }

    private void takeOver(NoticeTarget target, TargetToSet wanted, String address) {
        target.secret =
                wanted.secret() == null
                        ? target.secret
                        : wanted.secret().isEmpty()
                                ? null
                                : secrets.seal(target.owner(), wanted.secret());
        target.quiets = wanted.quiets() == null ? target.quiets : wanted.quiets();
        if (target.quiets && !address.startsWith("http")) {
            throw Refusal.wrong(
                    "An alarm system is quieted over HTTP, and says back who is quiet; saw %s. Tell syslog under another name."
                            .formatted(address));
        }
    }

    private static void mustBeKnown(List<String> about) {
        about.stream()
                .filter(kind -> !KINDS.contains(kind))
                .findFirst()
                .ifPresent(
                        kind -> {
                            throw Refusal.wrong(
                                    "There are no notices about \"%s\"; there are: %s."
                                            .formatted(
                                                    kind,
                                                    String.join(
                                                            ", ",
                                                            KINDS.stream().sorted().toList())));
                        });
    }

    private NoticeTarget fresh(String name, String who) {
        NoticeTarget target = new NoticeTarget();
        target.name = name;
        target.addedBy = who;
        target.addedAt = clock.instant();
        target.toldTo =
                sql.sql("select coalesce(max(id), 0) from event").query(Long.class).single();
        return target;
    }

    private static String checked(String address) {
        try {
            URI uri = URI.create(address.strip());
            boolean syslog = !String.valueOf(uri.getScheme()).startsWith("http");
            if (SCHEMES.contains(String.valueOf(uri.getScheme()))
                    && uri.getHost() != null
                    && (!syslog || uri.getPort() > 0)) {
                return uri.toString();
            }
        } catch (IllegalArgumentException unreadable) {
            // Said below, with what is expected.
        }
        throw Refusal.wrong(
                "Expected where it listens: https://host/path for a webhook, udp://host:port or tcp://host:port for syslog; saw \"%s\"."
                        .formatted(address));
    }

    void forget(String name, String who) {
        transactions.executeWithoutResult(
                _ -> {
                    targets.delete(
                            targets.findByName(name)
                                    .orElseThrow(
                                            () -> Refusal.notFound("target of notices", name)));
                    events.append(
                            Optional.empty(),
                            name,
                            "people",
                            who,
                            "%s has %s told no more.".formatted(who, name));
                });
    }

    /** Brings one notice that means nothing, now. @throws Refusal when it is not taken */
    void tryOut(String name, String who) {
        NoticeTarget target =
                targets.findByName(name)
                        .orElseThrow(() -> Refusal.notFound("target of notices", name));
        try {
            postman.bring(trial(name, who), URI.create(target.address), secretOf(target));
        } catch (IOException | RuntimeException untaken) {
            throw Refusal.conflict(
                    "%s at %s did not take it: %s. Look at the address, and at what stands in between."
                            .formatted(name, target.address, untaken.getMessage()));
        }
    }

    private Notice trial(String name, String who) {
        return new Notice(
                0,
                clock.instant(),
                "trial",
                name,
                null,
                who,
                "%s tries whether this is heard.".formatted(who),
                "");
    }

    private Optional<String> secretOf(NoticeTarget target) {
        return Optional.ofNullable(target.secret)
                .map(secret -> secrets.open(target.owner(), secret));
    }

    @Bean
    RecurringTask<Void> othersAreTold() {
        return Tasks.recurring("others-are-told", FixedDelay.ofSeconds(1))
                .execute((_, _) -> tellAll());
    }

    /** One at a time: two would tell the same ones twice. */
    synchronized void tellAll() {
        targets.findAllByOrderByName().stream()
                .filter(target -> !target.nextAt.isAfter(clock.instant()))
                .forEach(this::tell);
    }

    private void tell(NoticeTarget target) {
        List<String> kinds = target.kinds();
        String marks = String.join(", ", kinds.stream().map(_ -> "?").toList());
        JdbcClient.StatementSpec ask = sql.sql(NEXT.formatted(marks, AT_ONCE)).param(target.toldTo);
        for (String kind : kinds) {
            ask = ask.param(kind);
        }
        for (Notice notice :
                ask.query(
                                (row, _) ->
                                        new Notice(
                                                row.getLong("id"),
                                                row.getTimestamp("at").toInstant(),
                                                row.getString("kind"),
                                                row.getString("subject"),
                                                row.getString("run"),
                                                row.getString("who"),
                                                row.getString("text"),
                                                row.getString("hash")))
                        .list()) {
            try {
                postman.bring(notice, URI.create(target.address), secretOf(target));
                note(target, notice.id(), "");
            } catch (IOException | RuntimeException untaken) {
                LOG.warn(
                        "Notice {} was not taken by {}: {}",
                        notice.id(),
                        target.name,
                        untaken.getMessage());
                note(target, notice.id() - 1, String.valueOf(untaken.getMessage()));
                return;
            }
        }
    }

    /** Whoever changed or removed it meanwhile has the last word. */
    private void note(NoticeTarget target, long toldTo, String trouble) {
        transactions.executeWithoutResult(
                _ ->
                        targets.findByName(target.name)
                                .ifPresent(
                                        row -> {
                                            row.toldTo = Math.max(row.toldTo, toldTo);
                                            row.trouble = trouble;
                                            row.tries = trouble.isEmpty() ? 0 : row.tries + 1;
                                            row.nextAt =
                                                    trouble.isEmpty()
                                                            ? row.nextAt
                                                            : clock.instant()
                                                                    .plus(PAUSE.behind(row.tries));
                                        }));
        target.toldTo = Math.max(target.toldTo, toldTo);
    }
}
