package calmstep.service.people;

import static org.assertj.core.api.Assertions.assertThat;

import calmstep.service.RunningService;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * What a browser is told to do with a session, and what a page of somebody else's can do with it:
 * nothing.
 */
class SessionsOverHttpTest {
    private static final String SERVICE = RunningService.url();
    private static final String PASSWORD = "a long enough word";

    private final HttpClient client = HttpClient.newHttpClient();
    private final People people = RunningService.bean(People.class);
    private final String name = RunningService.name("mara");
    private final Map<String, String> cookies = new TreeMap<>();

    @BeforeEach
    void aPerson() {
        people.add(name, "operator", PASSWORD);
    }

    private HttpResponse<String> call(String method, String path, String body, String... headers)
            throws Exception {
        HttpRequest.Builder request =
                HttpRequest.newBuilder(URI.create(SERVICE + path))
                        .header("Content-Type", "application/json")
                        .method(method, HttpRequest.BodyPublishers.ofString(body));
        if (headers.length > 0) {
            request.headers(headers);
        }
        if (!cookies.isEmpty()) {
            cookies.forEach((cookie, value) -> request.header("Cookie", cookie + "=" + value));
        }
        HttpResponse<String> answer =
                client.send(request.build(), HttpResponse.BodyHandlers.ofString());
        answer.headers()
                .allValues("Set-Cookie")
                .forEach(
                        cookie ->
                                cookies.put(
                                        cookie.replaceFirst("=.*", ""),
                                        cookie.replaceFirst("[^=]*=", "").replaceFirst(";.*", "")));
        return answer;
    }

    private HttpResponse<String> signIn(String password) throws Exception {
        return call(
                "POST",
                "/api/sessions",
                "{\"name\":\"%s\",\"password\":\"%s\"}".formatted(name, password));
    }

    @Test
    void theCookieOfASessionIsOutOfReachOfScriptsAndOfOtherSites() throws Exception {
        String cookie =
                signIn(PASSWORD).headers().allValues("Set-Cookie").stream()
                        .filter(one -> one.startsWith("calmstep-session="))
                        .findFirst()
                        .orElseThrow();
        assertThat(cookie)
                .contains("; HttpOnly")
                .contains("; SameSite=Strict")
                .contains("; Path=/")
                .contains("; Max-Age=43200");
        assertThat(call("GET", "/api/me", "").body()).contains(name);
    }

    @Test
    void aSessionAloneChangesNothingWithoutThePagesOwnMark() throws Exception {
        signIn(PASSWORD);
        call("GET", "/api/me", "");
        String reading = "{\"devices\":[\"nobody-%s\"]}".formatted(name);
        assertThat(call("POST", "/api/readings", reading).statusCode())
                .as("as another site's form would")
                .isEqualTo(403);
        assertThat(call("POST", "/api/readings", reading, "X-XSRF-TOKEN", "guessed").statusCode())
                .isEqualTo(403);
        assertThat(
                        call(
                                        "POST",
                                        "/api/readings",
                                        reading,
                                        "X-XSRF-TOKEN",
                                        cookies.get("XSRF-TOKEN"))
                                .statusCode())
                .as("as the console does")
                .isEqualTo(404);
    }

    @Test
    void whoeverSignsOutIsOutAlsoWithACopyOfTheCookie() throws Exception {
        signIn(PASSWORD);
        call("GET", "/api/me", "");
        String copy = cookies.get("calmstep-session");
        assertThat(
                        call(
                                        "DELETE",
                                        "/api/sessions/current",
                                        "",
                                        "X-XSRF-TOKEN",
                                        cookies.get("XSRF-TOKEN"))
                                .statusCode())
                .isEqualTo(204);
        cookies.put("calmstep-session", copy);
        assertThat(call("GET", "/api/me", "").statusCode()).isEqualTo(401);
    }

    @Test
    void aNewPasswordEndsAllOtherSessions() throws Exception {
        String elsewhere = people.signIn(name, PASSWORD);
        String script = people.newToken(name, "nightly script");
        signIn(PASSWORD);
        call("GET", "/api/me", "");
        assertThat(
                        call(
                                        "PUT",
                                        "/api/me/password",
                                        "{\"old\":\"%s\",\"fresh\":\"another long word\"}"
                                                .formatted(PASSWORD),
                                        "X-XSRF-TOKEN",
                                        cookies.get("XSRF-TOKEN"))
                                .statusCode())
                .isEqualTo(204);
        assertThat(call("GET", "/api/me", "").statusCode())
                .as("the one that changed it goes on")
                .isEqualTo(200);
        assertThat(people.who(elsewhere)).isEmpty();
        assertThat(people.who(script)).as("tokens are revoked one by one").isPresent();
    }

    @Test
    void tooManyGuessesAreRefusedBeforeThePasswordIsLookedAt() throws Exception {
        for (int guess = 0; guess < 10; guess++) {
            assertThat(signIn("guess " + guess).statusCode()).isEqualTo(401);
        }
        HttpResponse<String> refused = signIn(PASSWORD);
        assertThat(refused.statusCode()).isEqualTo(429);
        assertThat(refused.body())
                .contains("Too many failed sign-ins for this name. Wait 15 minutes.");
        assertThat(refused.headers().allValues("Set-Cookie"))
                .noneMatch(cookie -> cookie.startsWith("calmstep-session="));
    }

    @Test
    void oldPasswordsAreNotGuessedThroughASessionEither() throws Exception {
        String secret = people.signIn(name, PASSWORD);
        for (int guess = 0; guess < 10; guess++) {
            assertThat(
                            call(
                                            "PUT",
                                            "/api/me/password",
                                            "{\"old\":\"guess\",\"fresh\":\"another long word\"}",
                                            "Authorization",
                                            "Bearer " + secret)
                                    .statusCode())
                    .isEqualTo(400);
        }
        assertThat(
                        call(
                                        "PUT",
                                        "/api/me/password",
                                        "{\"old\":\"%s\",\"fresh\":\"another long word\"}"
                                                .formatted(PASSWORD),
                                        "Authorization",
                                        "Bearer " + secret)
                                .statusCode())
                .isEqualTo(429);
    }

    @Test
    void everyAnswerSaysThatItIsNotToBeFramedGuessedAtOrKept() throws Exception {
        for (String path :
                new String[] {"/", "/api/me", "/api/runs/none", "/no/such/page", "/openapi.json"}) {
            HttpResponse<String> answer =
                    call("GET", path, "", "Accept", "text/html,application/json");
            assertThat(answer.headers().firstValue("X-Content-Type-Options"))
                    .as(path)
                    .contains("nosniff");
            assertThat(answer.headers().firstValue("X-Frame-Options")).as(path).contains("DENY");
            assertThat(answer.headers().firstValue("Cache-Control").orElse(""))
                    .as(path)
                    .contains("no-store");
            assertThat(answer.headers().map())
                    .as(path)
                    .doesNotContainKeys("server", "x-powered-by");
            assertThat(answer.body()).as(path).doesNotContain("Exception", "\tat ", "Tomcat");
        }
        String policy =
                call("GET", "/", "", "Accept", "text/html")
                        .headers()
                        .firstValue("Content-Security-Policy")
                        .orElse("");
        assertThat(policy)
                .contains("default-src 'none'", "script-src 'self'", "frame-ancestors 'none'")
                .doesNotContain("unsafe-eval")
                .doesNotContainPattern("script-src[^;]*unsafe-inline");
    }

    @Test
    void aSecretInAnAddressOpensNothing() throws Exception {
        String token = people.newToken(name, "script");
        assertThat(
                        call("GET", "/api/me?token=%s&access_token=%s".formatted(token, token), "")
                                .statusCode())
                .isEqualTo(401);
        assertThat(call("GET", "/api/me", "", "Authorization", "Basic " + token).statusCode())
                .isEqualTo(401);
        assertThat(call("GET", "/api/me", "", "Authorization", "Bearer " + token).statusCode())
                .isEqualTo(200);
    }
}
