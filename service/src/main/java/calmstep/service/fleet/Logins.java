package calmstep.service.fleet;

import calmstep.dialect.Doors;
import calmstep.dialect.Secret;
import calmstep.dialect.SnmpLogin;
import calmstep.dialect.SshSecret;
import calmstep.service.Settings;
import calmstep.service.events.Events;
import calmstep.service.json.Json;
import calmstep.service.problems.Refusal;
import calmstep.service.secrets.SecretBox;
import java.time.Clock;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What opens devices. No secret comes back out of the interface. */
@Component
public class Logins {
    private static final String PASSWORD = "password";
    private static final String KEY = "key";
    private static final String AGENT = "agent";
    private static final String SNMP_V2C = "snmp-v2c";
    private static final String SNMP_V3 = "snmp-v3";

    private final LoginRows logins;
    private final SecretBox secrets;
    private final Events events;
    private final Json json;
    private final Settings settings;
    private final Clock clock;

    Logins(
            LoginRows logins,
            SecretBox secrets,
            Events events,
            Json json,
            Settings settings,
            Clock clock) {
        this.logins = logins;
        this.secrets = secrets;
        this.events = events;
        this.json = json;
        this.settings = settings;
        this.clock = clock;
    }

    /** Sets the user and password that open devices; the password never comes back out. */
    @Transactional
    public void set(String name, String user, String password, String who) {
        keep(name, PASSWORD, user, password, who);
    }

    /**
     * Sets the user and private key that open devices; the key never comes back out.
     *
     * @throws Refusal when the text is no private key, or the passphrase does not open it
     */
    @Transactional
    public void set(String name, String user, SshSecret.Key key, String who) {
        Refusal.reading(key::pairs);
        keep(name, KEY, user, json.write(key), who);
    }

    /**
     * Lets the keys of the service's SSH agent open devices.
     *
     * @throws Refusal when the service was started without one
     */
    @Transactional
    public void setAgent(String name, String user, String who) {
        if (settings.agent().isEmpty()) {
            throw Refusal.conflict(
                    "The service knows no SSH agent. Start it with SSH_AUTH_SOCK set to the agent's"
                            + " socket.");
        }
        keep(name, AGENT, user, "", who);
    }

    /** Sets who asks by SNMP; words and passwords never come back out. */
    @Transactional
    public void set(String name, SnmpLogin login, String who) {
        switch (login) {
            case SnmpLogin.Community community -> keep(name, SNMP_V2C, "", community.word(), who);
            case SnmpLogin.User user -> keep(name, SNMP_V3, user.name(), json.write(user), who);
        }
    }

    private void keep(String name, String kind, String user, String secret, String who) {
        LoginRow row = logins.findById(name).orElseGet(LoginRow::new);
        row.name = name;
        row.kind = kind;
        row.userName = user;
        row.secret = secrets.seal("login/" + name, secret);
        row.changedAt = clock.instant();
        row.changedBy = who;
        logins.save(row);
        events.append(
                Optional.empty(), name, "fleet", who, "The login \"%s\" is set.".formatted(name));
    }

    /**
     * @throws Refusal when there is none of that name, or it is not for SNMP
     */
    @Transactional(readOnly = true)
    public SnmpLogin snmp(String name) {
        LoginRow row =
                logins.findById(name)
                        .orElseThrow(
                                () ->
                                        Refusal.conflict(
                                                "There is no login \"%s\" here. Set it with: calmstep fleet login %s --snmp v2c"
                                                        .formatted(name, name)));
        if (secretOf(row) instanceof SnmpLogin login) {
            return login;
        }
        throw Refusal.conflict(
                "The login \"%s\" opens a command line; expected one for SNMP. Set one with: calmstep fleet login NAME --snmp v2c"
                        .formatted(name));
    }

    public boolean hasSecret(String login) {
        return logins.existsById(login);
    }

    private Secret secretOf(LoginRow row) {
        String secret = secrets.open("login/" + row.name, row.secret);
        return switch (row.kind) {
            case SNMP_V2C -> new SnmpLogin.Community(secret);
            case SNMP_V3 -> json.read(secret, SnmpLogin.User.class);
            case KEY -> json.read(secret, SshSecret.Key.class);
            case AGENT -> new SshSecret.Agent(settings.agent());
            default -> new SshSecret.Password(secret);
        };
    }

    /** A login with its secret, as doors take it; empty where nobody set it. */
    Optional<Doors.Login> find(String name) {
        return logins.findById(name)
                .map(row -> new Doors.Login(row.name, row.userName, secretOf(row)));
    }
}
