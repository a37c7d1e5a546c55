package calmstep.service.mail;

import calmstep.core.fleet.Site;
import calmstep.core.patience.GrowingPause;
import calmstep.service.Settings;
import calmstep.service.Settings.MailSettings;
import calmstep.service.events.Events;
import calmstep.service.fleet.Fleet;
import calmstep.service.plans.PlanCalendars;
import calmstep.service.runs.RunViews;
import calmstep.service.runs.SiteWork;
import calmstep.service.runs.SiteWorks;
import calmstep.service.runs.SitesConcerned;
import calmstep.service.runs.SitesConcerned.Occasion;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.event.EventListener;
import org.springframework.core.io.ByteArrayResource;
import org.springframework.mail.MailException;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.transaction.support.TransactionTemplate;

/** Keeps who is to be told, and tells them. */
@Configuration
class SiteMail {
    private static final Logger LOG = LoggerFactory.getLogger(SiteMail.class);
    private static final GrowingPause PAUSE =
            new GrowingPause(Duration.ofSeconds(10), Duration.ofMinutes(15));
    private static final String WITHIN_MILLIS = "10000";

    /** Whoever moves one unit often moves the next one right after it: that is one mail. */
    private static final Duration GATHERED = Duration.ofSeconds(15);

    private final MailRows rows;
    private final RunViews runs;
    private final SiteWorks works;
    private final PlanCalendars calendars;
    private final Fleet fleet;
    private final Events events;
    private final TransactionTemplate transactions;
    private final MailSettings settings;
    private final Clock clock;

    SiteMail(
            MailRows rows,
            RunViews runs,
            SiteWorks works,
            PlanCalendars calendars,
            Fleet fleet,
            Events events,
            TransactionTemplate transactions,
            Settings settings,
            Clock clock) {
        this.rows = rows;
        this.runs = runs;
        this.works = works;
        this.calendars = calendars;
        this.fleet = fleet;
        this.events = events;
        this.transactions = transactions;
        this.settings = settings.mail();
        this.clock = clock;
    }

    /**
     * @param occasion {@code before}, {@code moved} or {@code after}
     * @param trouble why it is not sent yet; empty where nothing keeps it
     */
    record MailView(
            String site,
            String occasion,
            List<String> contacts,
            @Nullable Instant sentAt,
            int tries,
            String trouble) {}

    List<MailView> of(String run) {
        Map<String, Site> sites = fleet.sitesByAnyName();
        return rows.findByRunIdOrderById(runs.idOf(run)).stream()
                .map(
                        row ->
                                new MailView(
                                        row.site,
                                        row.occasion,
                                        row.sentTo.isEmpty()
                                                ? contacts(sites, row.site)
                                                : List.of(row.sentTo.split(" ")),
                                        row.sentAt,
                                        row.tries,
                                        row.trouble))
                .toList();
    }

    private static List<String> contacts(Map<String, Site> sites, String site) {
        return Optional.ofNullable(sites.get(site)).map(Site::contacts).orElse(List.of());
    }

    /** Within the transaction that begins or ends it. */
    @EventListener
    void keep(SitesConcerned concerned) {
        if (settings.host().isEmpty()) {
            return;
        }
        Map<String, Site> sites = fleet.sitesByAnyName();
        concerned.sites().stream()
                .filter(site -> !contacts(sites, site).isEmpty() && isNews(site, concerned))
                .forEach(site -> keepOne(site, concerned));
    }

    /** What a mail says that waits to be sent is what holds when it is sent. */
    private boolean isNews(String site, SitesConcerned concerned) {
        return switch (concerned.occasion()) {
            case BEFORE, AFTER ->
                    !rows.existsByRunIdAndSiteAndOccasion(
                            concerned.runId(), site, concerned.occasion().word());
            case MOVED -> !rows.existsByRunIdAndSiteAndSentAtIsNull(concerned.runId(), site);
        };
    }

    private void keepOne(String site, SitesConcerned concerned) {
        MailRow row = new MailRow();
        row.runId = concerned.runId();
        row.site = site;
        row.occasion = concerned.occasion().word();
        row.madeAt = clock.instant();
        row.nextAt =
                concerned.occasion() == Occasion.MOVED ? row.madeAt.plus(GATHERED) : row.madeAt;
        rows.save(row);
    }

    @Bean
    RecurringTask<Void> contactsAreTold() {
        return Tasks.recurring("contacts-are-told", FixedDelay.ofSeconds(2))
                .execute((_, _) -> tellAll());
    }

    void tellAll() {
        if (settings.host().isEmpty()) {
            return;
        }
        List<MailRow> due = rows.findBySentAtIsNullAndNextAtLessThanEqualOrderById(clock.instant());
        Map<String, Site> sites = due.isEmpty() ? Map.of() : fleet.sitesByAnyName();
        due.forEach(mail -> tell(Optional.ofNullable(sites.get(mail.site)), mail));
    }

    private void tell(Optional<Site> site, MailRow mail) {
        List<String> to = site.map(Site::contacts).orElse(List.of());
        try {
            if (site.isPresent() && !to.isEmpty()) {
                send(letter(site.get(), mail), to);
            }
            mail.sentAt = clock.instant();
            mail.sentTo = String.join(" ", to);
            mail.trouble = "";
        } catch (MailException | MessagingException untaken) {
            mail.tries++;
            mail.trouble =
                    "The mail server %s:%s did not take it: %s"
                            .formatted(settings.host(), settings.port(), untaken.getMessage());
            mail.nextAt = clock.instant().plus(PAUSE.behind(mail.tries));
            LOG.warn("Mail to the contacts of {} waits: {}", mail.site, mail.trouble);
        }
        transactions.executeWithoutResult(
                _ -> {
                    rows.save(mail);
                    if (mail.sentAt != null) {
                        events.append(
                                Optional.of(mail.runId),
                                mail.site,
                                "mail",
                                Events.SERVICE,
                                "The contacts of %s were told %s: %s."
                                        .formatted(
                                                mail.site,
                                                told(mail),
                                                mail.sentTo.replace(" ", ", ")));
                    }
                });
    }

    private static String told(MailRow mail) {
        return mail.occasion.equals(Occasion.MOVED.word())
                ? "of the new times"
                : mail.occasion + " the work";
    }

    /** With a part for calendars, where the plan has nights and the work is not over. */
    private Letter letter(Site site, MailRow mail) {
        SiteWork work = works.of(mail.runId, site.name());
        Occasion occasion = Occasion.parse(mail.occasion);
        return Letter.of(
                work,
                site,
                occasion,
                occasion == Occasion.AFTER
                        ? Optional.empty()
                        : calendars.ofRun(work.planId(), site.name(), work.spans()));
    }

    private void send(Letter letter, List<String> to) throws MessagingException {
        JavaMailSenderImpl server = new JavaMailSenderImpl();
        server.setHost(settings.host());
        server.setPort(settings.port());
        server.setDefaultEncoding("UTF-8");
        setTransport(server);
        if (!settings.user().isEmpty()) {
            server.setUsername(settings.user());
            server.setPassword(settings.password());
        }
        MimeMessage mime = server.createMimeMessage();
        MimeMessageHelper message =
                new MimeMessageHelper(mime, letter.calendar().isPresent(), "UTF-8");
        message.setFrom(settings.from());
        message.setTo(to.toArray(String[]::new));
        message.setSubject(letter.subject());
        message.setText(letter.text());
        if (letter.calendar().isPresent()) {
            message.addAttachment(
                    "calm-step.ics",
                    new ByteArrayResource(letter.calendar().get().getBytes(StandardCharsets.UTF_8)),
                    "text/calendar; charset=UTF-8; method=PUBLISH");
        }
        server.send(mime);
    }

    private void setTransport(JavaMailSenderImpl server) {
        server.getJavaMailProperties()
                .putAll(
                        Map.of(
                                "mail.smtp.timeout",
                                WITHIN_MILLIS,
                                "mail.smtp.connectiontimeout",
                                WITHIN_MILLIS,
                                "mail.smtp.writetimeout",
                                WITHIN_MILLIS,
                                "mail.smtp.starttls.required",
                                String.valueOf(settings.startTls()),
                                "mail.smtp.starttls.enable",
                                String.valueOf(settings.startTls()),
                                "mail.smtp.auth",
                                String.valueOf(!settings.user().isEmpty())));
    }
}
