package calmstep.service.releases;

import calmstep.core.plan.Abilities;
import calmstep.dialect.Dialect;
import calmstep.dialect.DialectText;
import calmstep.dialect.Recognition;
import calmstep.service.Settings;
import calmstep.service.problems.Refusal;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;

/**
 * The dialects of the folder that the service was started with. A wrong one keeps the service from
 * starting: better now than at night.
 */
@Component
public class Dialects {
    private final Map<String, Dialect> byFamily = new TreeMap<>();

    Dialects(Settings settings) throws IOException {
        try (Stream<Path> files = Files.list(settings.dialects())) {
            List<Path> texts = files.filter(f -> f.toString().endsWith(".yaml")).sorted().toList();
            for (Path file : texts) {
                Dialect dialect = DialectText.read(file.toString(), Files.readString(file));
                byFamily.put(dialect.family(), dialect);
            }
        }
    }

    public Set<String> families() {
        return byFamily.keySet();
    }

    public Dialect require(String family) {
        Dialect dialect = byFamily.get(family);
        if (dialect == null) {
            throw Refusal.conflict(
                    "There is no dialect for the family \"%s\"; expected one of %s. Put its file into the dialects folder."
                            .formatted(family, byFamily.keySet()));
        }
        return dialect;
    }

    /** What a run can do with the devices of a family. */
    public Abilities can(String family) {
        return Optional.ofNullable(byFamily.get(family))
                .map(Dialect::abilities)
                .orElse(Abilities.PLAIN);
    }

    /**
     * The family that a device which shows this is of; empty when no dialect knows it, or more than
     * one claims it.
     */
    public Optional<String> recognise(Recognition.Shows shows) {
        List<String> families =
                byFamily.values().stream()
                        .filter(d -> d.recognition().recognises(shows))
                        .map(Dialect::family)
                        .toList();
        return families.size() == 1 ? Optional.of(families.getFirst()) : Optional.empty();
    }
}
