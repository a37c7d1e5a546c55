package calmstep.practice;

import java.nio.charset.StandardCharsets;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.TreeMap;

/** The licences that a machine holds; they stay through a restart. */
final class Licences {
    private static final String LICENCE = "licence.";

    private final String machine;
    private final Map<String, String> sold;
    private final Properties memory;

    /**
     * @param sold name to how long it is valid, of those whose keys it takes
     */
    Licences(String machine, Map<String, String> sold, Properties memory) {
        this.machine = machine;
        this.sold = sold;
        this.memory = memory;
    }

    void lose(String name) {
        memory.remove(LICENCE + name);
    }

    void loseAll() {
        shown().keySet().forEach(this::lose);
    }

    void hold(String name, String until) {
        memory.setProperty(LICENCE + name, until);
    }

    /** Name to how long it is valid. */
    Map<String, String> shown() {
        Map<String, String> licences = new TreeMap<>();
        memory.stringPropertyNames().stream()
                .filter(key -> key.startsWith(LICENCE))
                .forEach(
                        key ->
                                licences.put(
                                        key.substring(LICENCE.length()), memory.getProperty(key)));
        return licences;
    }

    /**
     * What proves each of its licences; made up of its name, so that it is the same each time, and
     * on both sides of a pair.
     */
    Map<String, String> keys() {
        Map<String, String> keys = new TreeMap<>();
        shown().keySet().forEach(name -> keys.put(name, key(name)));
        return keys;
    }

    /** Whether the key proves a licence that was sold to it; then it holds that. */
    boolean take(String name, String key) {
        Optional<String> until =
                Optional.ofNullable(sold.get(name)).filter(_ -> key(name).equals(key));
        until.ifPresent(date -> hold(name, date));
        return until.isPresent();
    }

    private String key(String name) {
        return HexFormat.of()
                .withUpperCase()
                .formatHex(
                        PracticeImage.newSha256()
                                .digest(
                                        (machine.split(" member" + " ")[0] + name)
                                                .getBytes(StandardCharsets.UTF_8)),
                        0,
                        8);
    }
}
