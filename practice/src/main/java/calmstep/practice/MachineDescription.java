package calmstep.practice;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * A stand-in as the fleet file describes it: how it is when it is first switched on.
 *
 * @param files          images that lie on its storage
 * @param otherFiles     further files, name to size
 * @param startsInDevice time from restart to answering, on its own clock
 * @param startsWith     the same with a certain image, where that one takes another time
 * @param bytesPerSecond rate of a copy, on its own clock
 * @param settings       startup configuration
 * @param unsaved        lines that its running configuration has in addition
 * @param links          name to state
 * @param neighbours     name to state
 * @param snmp           {@code v2c}, {@code v3} or {@code none}
 */
public record MachineDescription(
        String name,
        String family,
        String address,
        String model,
        String revision,
        String serial,
        String user,
        String password,
        long flashBytes,
        List<String> files,
        Map<String, Long> otherFiles,
        String running,
        String fallback,
        Duration startsInDevice,
        long bytesPerSecond,
        String settings,
        List<String> unsaved,
        Map<String, String> links,
        Map<String, String> neighbours,
        Set<Fault> faults,
        String snmp,
        Map<String, Duration> startsWith) {
    MachineDescription(String name, String family, String address, String model, String revision, String serial, String user, String password, long flashBytes, List<String> files,
            Map<String, Long> otherFiles, String running, String fallback, Duration startsInDevice, long bytesPerSecond, String settings, List<String> unsaved, Map<String, String> links,
            Map<String, String> neighbours, Set<Fault> faults, String snmp) {
        this(name, family, address, model, revision, serial, user, password, flashBytes, files, otherFiles, running, fallback, startsInDevice, bytesPerSecond, settings, unsaved, links, neighbours, faults,
                snmp, Map.of());
    }
}
