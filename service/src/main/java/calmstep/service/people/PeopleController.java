package calmstep.service.people;

import io.swagger.v3.oas.annotations.Operation;
import jakarta.servlet.http.HttpServletRequest;
import java.security.Principal;
import java.time.Duration;
import java.util.List;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseCookie;
import org.springframework.http.ResponseEntity;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

@RestController
@RequestMapping("/api")
class PeopleController {
    private final People people;

    PeopleController(People people) {
        this.people = people;
    }

    record SignIn(String name, String password) {}

    record NewPerson(String name, String role, String password) {}

    record NewToken(String label) {}

    record Token(String token) {}

    record NewPassword(String old, String fresh) {}

    record Me(String name, String role) {}

    @PostMapping("/sessions")
    @Operation(summary = "Sign in; the session comes as a cookie")
    ResponseEntity<Me> signIn(@RequestBody SignIn signIn, HttpServletRequest request) {
        String secret = people.signIn(signIn.name(), signIn.password());
        People.Who who = people.who(secret).orElseThrow();
        return ResponseEntity.ok()
                .header(HttpHeaders.SET_COOKIE, cookie(secret, Duration.ofHours(12), request))
                .body(new Me(who.name(), who.role()));
    }

    @DeleteMapping("/sessions/current")
    ResponseEntity<Void> signOut(HttpServletRequest request) {
        AccessFilter.cookie(request).ifPresent(people::close);
        return ResponseEntity.noContent()
                .header(HttpHeaders.SET_COOKIE, cookie("", Duration.ZERO, request))
                .build();
    }

    private static String cookie(String value, Duration age, HttpServletRequest request) {
        return ResponseCookie.from(AccessFilter.COOKIE, value)
                .httpOnly(true)
                .sameSite("Strict")
                .secure(request.isSecure())
                .path("/")
                .maxAge(age)
                .build()
                .toString();
    }

    @GetMapping("/me")
    Me me(Authentication authentication) {
        People.Who who =
                people.all().stream()
                        .filter(w -> w.name().equals(authentication.getName()))
                        .findFirst()
                        .orElseThrow();
        return new Me(who.name(), who.role());
    }

    @PutMapping("/me/password")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void changePassword(@RequestBody NewPassword body, Principal who, HttpServletRequest request) {
        people.changePassword(
                who.getName(),
                body.old(),
                body.fresh(),
                AccessFilter.bearer(request).or(() -> AccessFilter.cookie(request)).orElse(""));
    }

    @GetMapping("/tokens")
    List<People.TokenView> tokens(Principal who) {
        return people.tokens(who.getName());
    }

    @PostMapping("/tokens")
    @ResponseStatus(HttpStatus.CREATED)
    @Operation(summary = "A token for scripts; shown once")
    Token newToken(@RequestBody NewToken body, Principal who) {
        return new Token(people.newToken(who.getName(), body.label()));
    }

    @DeleteMapping("/tokens/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revoke(@PathVariable long id, Principal who) {
        people.revoke(who.getName(), id);
    }

    @GetMapping("/people")
    @PreAuthorize("hasRole('admin')")
    List<People.Who> all() {
        return people.all();
    }

    @PostMapping("/people")
    @PreAuthorize("hasRole('admin')")
    @ResponseStatus(HttpStatus.CREATED)
    void add(@RequestBody NewPerson person) {
        people.add(person.name(), person.role(), person.password());
    }
}
