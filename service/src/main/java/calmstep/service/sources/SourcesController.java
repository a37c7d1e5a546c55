package calmstep.service.sources;

import calmstep.service.jobs.Jobs;
import io.swagger.v3.oas.annotations.Operation;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.security.Principal;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;

@RestController
@RequestMapping("/api")
class SourcesController {
    private static final String AS_A_FILE =
            ContentDisposition.attachment().filename("calmstep-bundle.zip").build().toString();

    private final Sources sources;
    private final Fetches fetches;
    private final Bundles bundles;
    private final Jobs jobs;

    SourcesController(Sources sources, Fetches fetches, Bundles bundles, Jobs jobs) {
        this.sources = sources;
        this.fetches = fetches;
        this.bundles = bundles;
        this.jobs = jobs;
    }

    /**
     * @param plan what a plan lacks besides
     */
    record ToFetch(List<String> files, @Nullable String plan) {}

    /**
     * @param plan a plan's images besides; neither means all that is on the shelf
     */
    record ToBundle(List<String> files, @Nullable String plan) {}

    record Key(String publicKey) {}

    @GetMapping("/sources")
    List<Sources.SourceView> sources() {
        return sources.all();
    }

    @PutMapping("/sources/{name}")
    @Operation(summary = "Set a maker's download service; passwords never come back out")
    Sources.SourceView set(
            @PathVariable String name, @RequestBody Sources.SourceToSet source, Principal who) {
        return sources.set(name, source, who.getName());
    }

    @DeleteMapping("/sources/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void forget(@PathVariable String name, Principal who) {
        sources.forget(name, who.getName());
    }

    @PostMapping("/sources/{name}/asked")
    @Operation(summary = "Ask a source what it published since it was asked last")
    List<Sources.OfferView> ask(@PathVariable String name, Principal who) {
        return sources.ask(name, who.getName());
    }

    @GetMapping("/offers")
    @Operation(summary = "Everything that the sources offer, newest first")
    List<Sources.OfferView> offers() {
        return sources.offered();
    }

    @PostMapping("/fetches")
    @ResponseStatus(HttpStatus.ACCEPTED)
    @Operation(
            summary =
                    "Fetch offered files, or all images that a plan lacks; answers with a job. A"
                            + " cut download goes on where it ended")
    Jobs.JobView fetch(@RequestBody ToFetch wanted, Principal who) {
        return jobs.require(
                fetches.start(
                        wanted.files(), wanted.plan() == null ? "" : wanted.plan(), who.getName()));
    }

    @PostMapping(path = "/bundles", produces = "application/zip")
    @Operation(
            summary =
                    "A signed bundle of images and their catalogues, to be carried into an isolated"
                            + " network")
    ResponseEntity<StreamingResponseBody> bundle(@RequestBody ToBundle wanted, Principal who) {
        Bundles.Written bundle =
                bundles.of(
                        wanted.files(), wanted.plan() == null ? "" : wanted.plan(), who.getName());
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType("application/zip"))
                .header(HttpHeaders.CONTENT_DISPOSITION, AS_A_FILE)
                .body(bundle::to);
    }

    @PutMapping(path = "/bundles/{file}", consumes = "application/octet-stream")
    @Operation(
            summary =
                    "Take a bundle over; it must be signed by a trusted key, and everything in it"
                            + " as listed")
    Bundles.Taken take(@PathVariable String file, HttpServletRequest request, Principal who)
            throws IOException {
        return bundles.take(file, request.getInputStream(), who.getName());
    }

    @GetMapping("/bundle-key")
    @Operation(summary = "The public key that signs this house's bundles")
    Bundles.KeyView ownKey() {
        return bundles.ownKey();
    }

    @GetMapping("/trusted-keys")
    List<Bundles.KeyView> trusted() {
        return bundles.trusted();
    }

    @PutMapping("/trusted-keys/{name}")
    @PreAuthorize("hasRole('approver')")
    @Operation(summary = "Trust the bundles that a key signed")
    Bundles.KeyView trust(@PathVariable String name, @RequestBody Key key, Principal who) {
        return bundles.trust(name, key.publicKey(), who.getName());
    }

    @DeleteMapping("/trusted-keys/{name}")
    @PreAuthorize("hasRole('approver')")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void distrust(@PathVariable String name, Principal who) {
        bundles.distrust(name, who.getName());
    }
}
