package calmstep.service.web;

import io.swagger.v3.oas.annotations.Hidden;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.Base64;
import org.springframework.core.io.ClassPathResource;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.servlet.config.annotation.ResourceHandlerRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/** The console's page and its assets. */
@Controller
@Hidden
class ConsoleController implements WebMvcConfigurer {
    private static final String PAGE = "static/index.html";
    private final SecureRandom random = new SecureRandom();

    @Override
    public void addResourceHandlers(ResourceHandlerRegistry registry) {
        registry.addResourceHandler("/assets/**")
                .addResourceLocations("classpath:/static/assets/")
                .setCacheControl(
                        CacheControl.maxAge(Duration.ofDays(365)).cachePublic().immutable());
    }

    @GetMapping({
        "/",
        "/{page:fleet|fleet-exposure|fleet-discovery|fleet-reach|releases|releases-sources|paths|plans|tonight|records}",
        "/{page:fleet|plans|tonight|records}/{which}"
    })
    ResponseEntity<byte[]> page() throws IOException {
        byte[] nonce = new byte[16];
        random.nextBytes(nonce);
        String text = Base64.getEncoder().encodeToString(nonce);
        try (InputStream in = new ClassPathResource(PAGE).getInputStream()) {
            String page =
                    new String(in.readAllBytes(), StandardCharsets.UTF_8)
                            .replace("__NONCE__", text);
            return ResponseEntity.ok()
                    .contentType(MediaType.TEXT_HTML)
                    .cacheControl(CacheControl.noStore())
                    .header(
                            "Content-Security-Policy",
                            ("default-src 'none'; script-src 'self'; style-src 'self' 'nonce-%s';"
                                 + " style-src-attr 'unsafe-inline'; img-src 'self' data:; font-src"
                                 + " 'self'; connect-src 'self'; base-uri 'none'; form-action"
                                 + " 'self'; frame-ancestors 'none'")
                                    .formatted(text))
                    .header("Referrer-Policy", "same-origin")
                    .body(page.getBytes(StandardCharsets.UTF_8));
        }
    }
}
