package calmstep.service.people;

import calmstep.core.step.Digests;
import calmstep.service.problems.Refusal;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.security.crypto.bcrypt.BCryptPasswordEncoder;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/** People, their sessions and tokens. */
@Component
public class People {
    private static final Logger LOG = LoggerFactory.getLogger(People.class);
    private static final Duration SESSION = Duration.ofHours(12);
    private static final Duration FAILURES_COUNT_FOR = Duration.ofMinutes(15);
    private static final int FAILURES_ALLOWED = 10;
    private static final int SHORTEST_PASSWORD = 12;
    private static final List<String> ROLES = List.of("viewer", "operator", "approver", "admin");

    private final Persons persons;
    private final Accesses accesses;
    private final SignInFailures failures;
    private final Clock clock;
    private final PasswordEncoder encoder = new BCryptPasswordEncoder();
    private final SecureRandom random = new SecureRandom();

    People(Persons persons, Accesses accesses, SignInFailures failures, Clock clock) {
        this.persons = persons;
        this.accesses = accesses;
        this.failures = failures;
        this.clock = clock;
    }

    /** Somebody who is signed in. */
    public record Who(String name, String role) {
        boolean may(String needed) {
            return ROLES.indexOf(role) >= ROLES.indexOf(needed);
        }
    }

    /**
     * The first start makes the admin. Its password is written once, to standard output, and kept
     * only as a hash.
     */
    @EventListener(ApplicationReadyEvent.class)
    @Transactional
    public void makeFirstAdmin() {
        if (persons.count() == 0) {
            String password = newSecret(12);
            add("admin", "admin", password);
            TransactionSynchronizationManager.registerSynchronization(
                    new TransactionSynchronization() {
                        @Override
                        public void afterCommit() {
                            tellFirstAdmin(password);
                        }
                    });
        }
    }

    /** Whoever reads it may sign in at once. */
    private static void tellFirstAdmin(String password) {
        System.out.printf(
                "First start: sign in as \"admin\" with the one-time password %s and change it. It"
                        + " is not shown again.%n",
                password);
    }

    private String newSecret(int bytes) {
        byte[] secret = new byte[bytes];
        random.nextBytes(secret);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(secret);
    }

    @Transactional
    public void add(String name, String role, String password) {
        if (!ROLES.contains(role)) {
            throw Refusal.wrong(
                    "Expected a role (%s), saw \"%s\".".formatted(String.join(", ", ROLES), role));
        }
        if (persons.findByName(name).isPresent()) {
            throw Refusal.conflict("There is a person \"%s\" already.".formatted(name));
        }
        Person person = new Person();
        person.name = name;
        person.role = role;
        person.passwordHash = hashed(password);
        person.createdAt = clock.instant();
        persons.save(person);
    }

    private String hashed(String password) {
        if (password.length() < SHORTEST_PASSWORD) {
            throw Refusal.wrong(
                    "A password needs at least %s characters, this one has %s."
                            .formatted(SHORTEST_PASSWORD, password.length()));
        }
        return String.valueOf(encoder.encode(password));
    }

    /**
     * Changes a password, and ends all sessions of that person but the one that did it.
     *
     * @param own secret of that session, or of the token
     */
    @Transactional(noRollbackFor = Refusal.class)
    public void changePassword(String name, String old, String fresh, String own) {
        mustNotGuess(name);
        Person person =
                persons.findByName(name).orElseThrow(() -> Refusal.notFound("person", name));
        if (!encoder.matches(old, person.passwordHash)) {
            count(name);
            throw Refusal.wrong("The old password is not right.");
        }
        person.passwordHash = hashed(fresh);
        String kept = Digests.sha256(own);
        accesses.findByPersonNameAndKindAndRevokedAtIsNullOrderById(name, "session").stream()
                .filter(session -> !session.secretHash.equals(kept))
                .forEach(session -> session.revokedAt = clock.instant());
    }

    /**
     * Signs in; gives the secret of a new session. Failures are counted by name and make waiting
     * necessary.
     */
    @Transactional(noRollbackFor = Refusal.class)
    public String signIn(String name, String password) {
        mustNotGuess(name);
        Optional<Person> person = persons.findByName(name).filter(p -> !p.disabled);
        String hash =
                person.map(p -> p.passwordHash)
                        .orElse("$2a$10$C6UzMDM.H6dfI/f/IKcEe.2uQJmlbyQX1Yx8T7OeIQfzqSbTG5r2a");
        if (!encoder.matches(password, hash) || person.isEmpty()) {
            count(name);
            LOG.warn("A sign-in as \"{}\" failed", name);
            throw Refusal.notSignedIn("The name or the password is not right.");
        }
        return open(person.get(), "session", "console");
    }

    private void mustNotGuess(String name) {
        if (failures.countByNameAndAtAfter(name, clock.instant().minus(FAILURES_COUNT_FOR))
                >= FAILURES_ALLOWED) {
            throw Refusal.tooMany(
                    "Too many failed sign-ins for this name. Wait %s minutes."
                            .formatted(FAILURES_COUNT_FOR.toMinutes()));
        }
    }

    private void count(String name) {
        SignInFailure failure = new SignInFailure();
        failure.name = name;
        failure.at = clock.instant();
        failures.save(failure);
    }

    /** A token for scripts and the client; shown once. */
    @Transactional
    public String newToken(String name, String label) {
        return open(
                persons.findByName(name).orElseThrow(() -> Refusal.notFound("person", name)),
                "token",
                label);
    }

    private String open(Person person, String kind, String label) {
        String secret = newSecret(32);
        Access access = new Access();
        access.person = person;
        access.kind = kind;
        access.label = label;
        access.secretHash = Digests.sha256(secret);
        access.createdAt = clock.instant();
        access.expiresAt = kind.equals("session") ? clock.instant().plus(SESSION) : null;
        accesses.save(access);
        return secret;
    }

    @Transactional(readOnly = true)
    public Optional<Who> who(String secret) {
        return accesses.findBySecretHash(Digests.sha256(secret))
                .filter(access -> access.isOpen(clock.instant()))
                .map(access -> new Who(access.person.name, access.person.role));
    }

    @Transactional
    public void close(String secret) {
        accesses.findBySecretHash(Digests.sha256(secret))
                .ifPresent(access -> access.revokedAt = clock.instant());
    }

    /** A token as it is listed: without its secret, which nobody has any more. */
    public record TokenView(long id, String label, java.time.Instant createdAt) {}

    @Transactional(readOnly = true)
    public List<TokenView> tokens(String name) {
        return accesses.findByPersonNameAndKindAndRevokedAtIsNullOrderById(name, "token").stream()
                .map(a -> new TokenView(a.id == null ? 0 : a.id, a.label, a.createdAt))
                .toList();
    }

    @Transactional
    public void revoke(String name, long id) {
        Access access =
                accesses.findById(id)
                        .filter(a -> a.person.name.equals(name))
                        .orElseThrow(() -> Refusal.notFound("token", String.valueOf(id)));
        access.revokedAt = clock.instant();
    }

    @Transactional(readOnly = true)
    public List<Who> all() {
        return persons.findAll().stream()
                .filter(p -> !p.disabled)
                .map(p -> new Who(p.name, p.role))
                .toList();
    }
}
