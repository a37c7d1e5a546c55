package calmstep.service.people;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.springframework.dao.DataAccessException;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.authority.SimpleGrantedAuthority;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.transaction.TransactionException;
import org.springframework.web.filter.OncePerRequestFilter;

/** Recognises people by the bearer token of a script or the cookie of the console. */
class AccessFilter extends OncePerRequestFilter {
    static final String COOKIE = "calmstep-session";
    private static final String BEARER = "Bearer ";

    private final People people;

    AccessFilter(People people) {
        this.people = people;
    }

    static Optional<String> bearer(HttpServletRequest request) {
        return Optional.ofNullable(request.getHeader("Authorization"))
                .filter(h -> h.startsWith(BEARER))
                .map(h -> h.substring(BEARER.length()));
    }

    static Optional<String> cookie(HttpServletRequest request) {
        return Optional.ofNullable(request.getCookies()).stream()
                .flatMap(Arrays::stream)
                .filter(c -> c.getName().equals(COOKIE))
                .map(Cookie::getValue)
                .findFirst();
    }

    @Override
    protected void doFilterInternal(
            HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        Optional<People.Who> known;
        try {
            known = bearer(request).or(() -> cookie(request)).flatMap(people::who);
        } catch (DataAccessException | TransactionException away) {
            SecuritySetup.problem(
                    response,
                    503,
                    "The database does not answer. Nothing was changed; what is under way goes on"
                            + " when it is back. Look at PostgreSQL.");
            return;
        }
        known.ifPresent(who -> letIn(who));
        chain.doFilter(request, response);
    }

    private static void letIn(People.Who who) {
        var roles =
                List.of("viewer", "operator", "approver", "admin").stream()
                        .filter(who::may)
                        .map(r -> new SimpleGrantedAuthority("ROLE_" + r))
                        .toList();
        SecurityContextHolder.getContext()
                .setAuthentication(new UsernamePasswordAuthenticationToken(who.name(), "", roles));
    }

    @Override
    protected boolean shouldNotFilterAsyncDispatch() {
        return false;
    }
}
