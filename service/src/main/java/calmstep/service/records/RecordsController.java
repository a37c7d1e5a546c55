package calmstep.service.records;

import io.swagger.v3.oas.annotations.Operation;
import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.thymeleaf.ITemplateEngine;
import org.thymeleaf.context.Context;

@RestController
@RequestMapping("/api/records")
class RecordsController {
    private final Records records;
    private final ITemplateEngine templates;

    RecordsController(Records records, ITemplateEngine templates) {
        this.records = records;
        this.templates = templates;
    }

    @GetMapping
    List<Records.RecordSummary> all() {
        return records.all();
    }

    @GetMapping(path = "/{run}", produces = MediaType.APPLICATION_JSON_VALUE)
    @Operation(summary = "The record of a run, byte for byte as its digest was taken")
    @ApiResponse(content = @Content(schema = @Schema(implementation = RunRecord.class)))
    String one(@PathVariable String run) {
        return records.text(run);
    }

    @GetMapping(path = "/{run}/account")
    @Operation(
            summary =
                    "What a change board reads first: the state, counts, exceptions, outages"
                            + " planned and seen, windows")
    Account account(@PathVariable String run) {
        return Account.of(records.find(run));
    }

    @GetMapping(path = "/{run}/page", produces = MediaType.TEXT_HTML_VALUE)
    @Operation(summary = "The record of a run as a page to read, print and hand in")
    ResponseEntity<String> page(@PathVariable String run) {
        return ResponseEntity.ok()
                .header(
                        "Content-Security-Policy",
                        "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'")
                .body(pageOf(records.find(run), true));
    }

    @GetMapping(path = "/{run}/pdf", produces = MediaType.APPLICATION_PDF_VALUE)
    @Operation(summary = "The record of a run as a document to print and hand in, without the talk")
    @ApiResponse(
            content =
                    @Content(
                            mediaType = MediaType.APPLICATION_PDF_VALUE,
                            schema = @Schema(type = "string", format = "binary")))
    ResponseEntity<byte[]> document(@PathVariable String run) throws IOException {
        return ResponseEntity.ok()
                .header("Content-Disposition", "attachment; filename=\"%s.pdf\"".formatted(run))
                .body(RecordPdf.of(pageOf(records.find(run), false)));
    }

    /**
     * @param withTalk hundreds of sheets, if it were printed
     */
    private String pageOf(RunRecord record, boolean withTalk) {
        Context context = new Context(Locale.ENGLISH);
        context.setVariable("record", record);
        context.setVariable("account", Account.of(record));
        context.setVariable("sha256", records.sha256(record.run()));
        context.setVariable("words", new RecordWords());
        context.setVariable("withTalk", withTalk);
        return templates.process("record", context);
    }

    @GetMapping(path = "/{run}/units", produces = "text/csv")
    @Operation(summary = "Planned against reached, one line a unit")
    String table(@PathVariable String run) {
        return EvidenceArchive.table(records.find(run));
    }

    @GetMapping(path = "/{run}/evidence", produces = "application/zip")
    @Operation(
            summary =
                    "The record with its page, its table and all talk as one archive, with a"
                            + " manifest of checksums; it can be verified without a service")
    @ApiResponse(
            content =
                    @Content(
                            mediaType = "application/zip",
                            schema = @Schema(type = "string", format = "binary")))
    ResponseEntity<byte[]> evidence(@PathVariable String run) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        RunRecord record = records.find(run);
        new EvidenceArchive(record, records.text(run), pageOf(record, true)).writeTo(bytes);
        String name = "attachment; filename=\"%s-evidence.zip\"".formatted(run);
        return ResponseEntity.ok().header("Content-Disposition", name).body(bytes.toByteArray());
    }
}
