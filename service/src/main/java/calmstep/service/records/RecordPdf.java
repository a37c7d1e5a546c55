package calmstep.service.records;

import com.openhtmltopdf.pdfboxout.PdfRendererBuilder;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Optional;

/** The page of a record as a printable document (PDF). */
final class RecordPdf {
    /**
     * The one typeface that the renderer brings along as a file; it stands for those of the page.
     */
    private static final String TYPEFACE =
            "/org/apache/pdfbox/resources/ttf/LiberationSans-Regular.ttf";

    private static final List<String> STANDS_FOR =
            List.of("Atkinson Hyperlegible Next", "Atkinson Hyperlegible Mono");

    private RecordPdf() {}

    /**
     * @param page well-formed
     */
    static byte[] of(String page) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        PdfRendererBuilder builder =
                new PdfRendererBuilder().useFastMode().withHtmlContent(page, null).toStream(bytes);
        STANDS_FOR.forEach(family -> builder.useFont(RecordPdf::typeface, family));
        builder.run();
        return bytes.toByteArray();
    }

    private static InputStream typeface() {
        return Optional.ofNullable(PdfRendererBuilder.class.getResourceAsStream(TYPEFACE))
                .orElseThrow(
                        () ->
                                new IllegalStateException(
                                        "%s is not on the class path".formatted(TYPEFACE)));
    }
}
