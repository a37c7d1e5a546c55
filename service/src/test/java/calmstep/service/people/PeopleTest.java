package calmstep.service.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import calmstep.service.RunningService;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class PeopleTest {
    private static final String PASSWORD = "a long enough word";

    private final People people = RunningService.bean(People.class);
    private final String name = RunningService.name("mara");

    @BeforeEach
    void aPerson() {
        people.add(name, "operator", PASSWORD);
    }

    @Test
    void aSessionOpensUntilItIsClosed() {
        String secret = people.signIn(name, PASSWORD);
        assertThat(people.who(secret))
                .hasValueSatisfying(
                        who -> {
                            assertThat(who.name()).isEqualTo(name);
                            assertThat(
                                            List.of(
                                                    who.may("viewer"),
                                                    who.may("operator"),
                                                    who.may("approver"),
                                                    who.may("admin")))
                                    .containsExactly(true, true, false, false);
                        });
        people.close(secret);
        assertThat(people.who(secret)).isEmpty();
        assertThat(people.who("made up")).isEmpty();
    }

    @Test
    void sessionsRunOutAndTokensDoNot() {
        String session = people.signIn(name, PASSWORD);
        String token = people.newToken(name, "nightly script");
        RunningService.sql()
                .update(
                        "update access set expires_at = now() - interval '1 second' where kind ="
                            + " 'session' and person_id = (select id from person where name = ?)",
                        name);
        assertThat(people.who(session)).isEmpty();
        assertThat(people.who(token)).isPresent();
    }

    @Test
    void aTokenIsListedWithoutItsSecretAndCanBeRevokedByItsOwnerOnly() {
        String token = people.newToken(name, "nightly script");
        String other = RunningService.name("jon");
        people.add(other, "viewer", PASSWORD);
        People.TokenView listed = people.tokens(name).getFirst();
        assertThat(listed.label()).isEqualTo("nightly script");
        assertThat(listed.toString()).doesNotContain(token);
        assertThatThrownBy(() -> people.revoke(other, listed.id()))
                .hasMessageContaining("no token");
        assertThat(people.who(token)).isPresent();
        people.revoke(name, listed.id());
        assertThat(people.who(token)).isEmpty();
        assertThat(people.tokens(name)).isEmpty();
    }

    @Test
    void whoeverIsDisabledIsOutAtOnce() {
        String secret = people.signIn(name, PASSWORD);
        RunningService.sql().update("update person set disabled = true where name = ?", name);
        assertThat(people.who(secret)).isEmpty();
        assertThatThrownBy(() -> people.signIn(name, PASSWORD)).hasMessageContaining("not right");
        assertThat(people.all()).extracting(People.Who::name).doesNotContain(name);
    }

    @Test
    void neitherPasswordsNorSecretsAreInTheDatabase() {
        String token = people.newToken(name, "script");
        assertThat(
                        RunningService.sql()
                                .queryForList("select password_hash from person", String.class))
                .allMatch(h -> h.startsWith("$2"))
                .doesNotContain(PASSWORD);
        assertThat(
                        RunningService.sql()
                                .queryForList("select secret_hash from access", String.class))
                .allMatch(h -> h.matches("[0-9a-f]{64}"))
                .doesNotContain(token);
    }

    @Test
    void wrongPasswordsAreCountedAndThenMakeWaitingNecessaryForThatNameAlone() {
        for (int i = 0; i < 10; i++) {
            assertThatThrownBy(() -> people.signIn(name, "guess"))
                    .hasMessage("The name or the password is not right.");
        }
        assertThatThrownBy(() -> people.signIn(name, PASSWORD))
                .as("even the right one now")
                .hasMessageContaining("Wait 15 minutes");
        String other = RunningService.name("jon");
        people.add(other, "viewer", PASSWORD);
        assertThat(people.signIn(other, PASSWORD)).isNotBlank();
        RunningService.sql()
                .update(
                        "update sign_in_failure set at = at - interval '16 minutes' where name = ?",
                        name);
        assertThat(people.signIn(name, PASSWORD)).isNotBlank();
    }

    @Test
    void anUnknownNameIsRefusedInTheSameWords() {
        assertThatThrownBy(() -> people.signIn(RunningService.name("nobody"), "guess"))
                .hasMessage("The name or the password is not right.");
    }

    @Test
    void passwordsAreChangedByWhoeverKnowsTheOldOne() {
        assertThatThrownBy(() -> people.changePassword(name, "wrong", "another long word", ""))
                .hasMessageContaining("old password");
        assertThatThrownBy(() -> people.changePassword(name, PASSWORD, "short", ""))
                .hasMessageContaining("at least 12")
                .hasMessageContaining("has 5");
        people.changePassword(name, PASSWORD, "another long word", "");
        assertThatThrownBy(() -> people.signIn(name, PASSWORD)).hasMessageContaining("not right");
        assertThat(people.signIn(name, "another long word")).isNotBlank();
    }

    @Test
    void namesAreTakenOnceAndRolesAreTheFour() {
        assertThatThrownBy(() -> people.add(name, "viewer", PASSWORD))
                .hasMessageContaining("already");
        assertThatThrownBy(() -> people.add(RunningService.name("x"), "root", PASSWORD))
                .hasMessageContaining("viewer, operator, approver, admin")
                .hasMessageContaining("root");
        assertThat(people.all()).extracting(People.Who::name).contains("admin", name);
    }
}
