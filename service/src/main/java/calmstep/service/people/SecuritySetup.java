package calmstep.service.people;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import org.springframework.aop.support.annotation.AnnotationMatchingPointcut;
import org.springframework.beans.factory.config.BeanDefinition;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.Role;
import org.springframework.http.HttpMethod;
import org.springframework.http.MediaType;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.security.authentication.AuthenticationManager;
import org.springframework.security.authorization.method.AuthorizationManagerBeforeMethodInterceptor;
import org.springframework.security.authorization.method.PreAuthorizeAuthorizationManager;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.config.http.SessionCreationPolicy;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.access.intercept.AuthorizationFilter;
import org.springframework.web.bind.annotation.RestController;

/**
 * Everything under {@code /api} is closed unless signed in; a viewer reads, an operator changes,
 * what needs more says so itself.
 */
@Configuration
class SecuritySetup {
    /**
     * Holds to {@link PreAuthorize} on the handlers of calls, and on nothing else: asking every
     * method of every bean for four annotations took a sixth of a start.
     */
    @Bean
    @Role(BeanDefinition.ROLE_INFRASTRUCTURE)
    static AuthorizationManagerBeforeMethodInterceptor whoMay() {
        return new AuthorizationManagerBeforeMethodInterceptor(
                new AnnotationMatchingPointcut(RestController.class, PreAuthorize.class),
                new PreAuthorizeAuthorizationManager());
    }

    @Bean
    SecurityFilterChain security(HttpSecurity http, People people) throws Exception {
        return http.sessionManagement(s -> s.sessionCreationPolicy(SessionCreationPolicy.STATELESS))
                .csrf(
                        csrf ->
                                csrf.spa()
                                        .ignoringRequestMatchers(
                                                request ->
                                                        AccessFilter.bearer(request).isPresent()
                                                                || request.getServletPath()
                                                                        .equals("/api/sessions")))
                .addFilterBefore(new AccessFilter(people), AuthorizationFilter.class)
                .authorizeHttpRequests(
                        requests ->
                                requests.dispatcherTypeMatchers(
                                                jakarta.servlet.DispatcherType.ASYNC,
                                                jakarta.servlet.DispatcherType.ERROR)
                                        .permitAll()
                                        .requestMatchers(HttpMethod.POST, "/api/sessions")
                                        .permitAll()
                                        .requestMatchers(
                                                "/api/sessions/**", "/api/me/**", "/api/tokens/**")
                                        .authenticated()
                                        .requestMatchers(HttpMethod.GET, "/api/**")
                                        .hasRole("viewer")
                                        .requestMatchers("/api/**")
                                        .hasRole("operator")
                                        .anyRequest()
                                        .permitAll())
                .exceptionHandling(
                        e ->
                                e.authenticationEntryPoint(
                                                (_, response, _) ->
                                                        problem(
                                                                response,
                                                                401,
                                                                "Sign in first: nobody is signed in"
                                                                        + " with this call."))
                                        .accessDeniedHandler(
                                                (_, response, _) ->
                                                        problem(
                                                                response,
                                                                403,
                                                                "Your role does not allow this, or"
                                                                    + " the page is too old; load"
                                                                    + " it again or ask an"
                                                                    + " admin.")))
                .formLogin(f -> f.disable())
                .httpBasic(b -> b.disable())
                .logout(l -> l.disable())
                .requestCache(c -> c.disable())
                .build();
    }

    /** No users of Spring's own: without this bean it makes one and logs its password. */
    @Bean
    AuthenticationManager noOtherUsers() {
        return authentication -> {
            throw new org.springframework.security.authentication.BadCredentialsException(
                    "Sign in through /api/sessions");
        };
    }

    static void problem(HttpServletResponse response, int status, String sentence)
            throws IOException {
        response.setStatus(status);
        response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
        response.getOutputStream()
                .write(
                        "{\"type\":\"about:blank\",\"title\":\"%s\",\"status\":%s,\"detail\":\"%s\"}"
                                .formatted(sentence, status, sentence)
                                .getBytes(StandardCharsets.UTF_8));
    }
}
