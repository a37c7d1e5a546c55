package calmstep.practice;

import java.io.IOException;
import java.net.URI;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import org.snmp4j.PDU;
import org.snmp4j.smi.Integer32;
import org.snmp4j.smi.OID;
import org.snmp4j.smi.OctetString;
import org.snmp4j.smi.Variable;

/**
 * The objects of the Skelda L4, below an enterprise number that is kept for documentation: what it
 * is and runs, its two image places, its settings line by line, and orders that are given by
 * writing a value. A transfer goes on by itself once it is ordered, in the small share of the
 * channel that it may have.
 */
final class SkeldaObjects implements SnmpPort.Objects {
    static final String FAMILY = "skelda-l4";
    private static final String UNDER_WAY = "under way";
    private static final String ROOT = "1.3.6.1.4.1.32473.4.";

    private final Machine machine;
    private final Air.Radio radio;
    private final Air.Base base;
    private volatile String sendSource = "";
    private volatile String sendFile = "";
    private volatile String asked = "";
    private volatile String source = "";
    private volatile String file = "";
    private volatile String transfer = "idle";
    private volatile String weighed = "";
    private volatile String tried = "";

    SkeldaObjects(Machine machine, Air air) {
        this.machine = machine;
        radio = air.join(machine);
        base = air.new Base(machine);
    }

    @Override
    public NavigableMap<OID, Variable> values() {
        MachineDescription d = machine.description();
        NavigableMap<OID, Variable> values = new TreeMap<>();
        tellIdentity(values, d);
        tellState(values);
        values.put(new OID(ROOT + "3.1.0"), new Integer32((int) d.flashBytes()));
        values.put(new OID(ROOT + "3.2.0"), new Integer32((int) machine.flash().freeBytes()));
        tellFiles(values);
        pairs(values, "4.1.", machine.links());
        pairs(values, "5.1.", d.neighbours());
        pairs(values, "6.1.", machine.licences().shown());
        lines(values, "7.1.1.", machine.settings());
        lines(values, "8.1.1.", machine.keptSettings());
        return values;
    }

    private void tellFiles(NavigableMap<OID, Variable> values) {
        int row = 0;
        for (Map.Entry<String, Long> stored : machine.flash().files().entrySet()) {
            row++;
            values.put(new OID(ROOT + "3.3.1.1." + row), new OctetString(stored.getKey()));
            values.put(
                    new OID(ROOT + "3.3.1.2." + row), new Integer32(stored.getValue().intValue()));
        }
    }

    private void tellState(NavigableMap<OID, Variable> values) {
        texts(
                values,
                Map.of(
                        "9.1.0",
                        machine.settings().equals(machine.keptSettings()) ? "none" : "some",
                        "10.1.0",
                        "ok",
                        "10.2.0",
                        "ok",
                        "20.4.0",
                        transfer,
                        "21.2.0",
                        weighed,
                        "26.2.0",
                        tried,
                        "20.5.0",
                        transfer.equals(UNDER_WAY) ? file : "none",
                        "30.4.0",
                        base.says(),
                        "31.2.0",
                        radio.pieces().of(asked)));
    }

    private void tellIdentity(NavigableMap<OID, Variable> values, MachineDescription d) {
        texts(
                values,
                Map.of(
                        "1.1.0",
                        d.name(),
                        "1.2.0",
                        d.model(),
                        "1.3.0",
                        d.serial(),
                        "1.4.0",
                        d.outfit().variant(),
                        "2.1.0",
                        machine.release(),
                        "2.2.0",
                        machine.runningImage(),
                        "2.3.0",
                        machine.next(),
                        "2.4.0",
                        machine.fallback(),
                        "2.5.0",
                        machine.isChoiceKept() ? "kept" : "loose",
                        "2.6.0",
                        "start %s".formatted(machine.starts())));
    }

    private static void texts(NavigableMap<OID, Variable> values, Map<String, String> texts) {
        texts.forEach((number, text) -> values.put(new OID(ROOT + number), new OctetString(text)));
    }

    private static void pairs(
            NavigableMap<OID, Variable> values, String table, Map<String, String> pairs) {
        int row = 0;
        for (Map.Entry<String, String> pair : pairs.entrySet()) {
            row++;
            values.put(new OID(ROOT + table + "1." + row), new OctetString(pair.getKey()));
            values.put(new OID(ROOT + table + "2." + row), new OctetString(pair.getValue()));
        }
    }

    private static void lines(
            NavigableMap<OID, Variable> values, String column, List<String> lines) {
        for (int i = 0; i < lines.size(); i++) {
            values.put(new OID(ROOT + column + (i + 1)), new OctetString(lines.get(i)));
        }
        values.put(
                new OID(ROOT + column + (lines.size() + 1)),
                new OctetString("; %s lines".formatted(lines.size())));
    }

    @Override
    public int set(OID number, Variable value) {
        String text = value.toString();
        String dotted = number.toDottedString();
        if (!dotted.startsWith(ROOT)) {
            return PDU.notWritable;
        }
        return switch (dotted.substring(ROOT.length())) {
            case "20.1.0" -> {
                source = text;
                yield PDU.noError;
            }
            case "20.2.0" -> {
                file = text;
                yield text.matches("[\\w.-]+") ? PDU.noError : PDU.badValue;
            }
            case "20.3.0" -> transfer();
            case "21.1.0" -> {
                weighed = machine.flash().sha256(text).orElse("no such file");
                yield PDU.noError;
            }
            case "22.1.0" -> remove(text);
            case "23.1.0" -> choose(text, machine.fallback());
            case "23.2.0" -> choose(machine.next(), text);
            case "23.3.0" -> {
                machine.keepChoice();
                yield PDU.noError;
            }
            case "24.1.0" -> {
                // It answers first, and goes down then.
                Thread.ofVirtual()
                        .start(
                                () -> {
                                    pause();
                                    machine.restart();
                                });
                yield PDU.noError;
            }
            case "25.1.0" -> {
                machine.keepSettings();
                yield PDU.noError;
            }
            case "26.1.0" -> {
                tried = new Fetch(machine).whyNotReached(URI.create(text)).orElse("reached");
                yield PDU.noError;
            }
            default -> setOfTheAir(dotted.substring(ROOT.length()), text);
        };
    }

    private int setOfTheAir(String number, String text) {
        return switch (number) {
            case "30.1.0" -> {
                sendSource = text;
                yield PDU.noError;
            }
            case "30.2.0" -> {
                sendFile = text;
                yield text.matches("[\\w.-]+") ? PDU.noError : PDU.badValue;
            }
            case "30.3.0" ->
                    base.toAll(URI.create(sendSource), sendFile)
                            ? PDU.noError
                            : PDU.inconsistentValue;
            case "30.5.0" ->
                    base.missing(URI.create(sendSource), sendFile, text)
                            ? PDU.noError
                            : PDU.inconsistentValue;
            case "31.1.0" -> {
                asked = text;
                yield PDU.noError;
            }
            default -> PDU.notWritable;
        };
    }

    private static void pause() {
        try {
            Thread.sleep(50);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }

    private int remove(String name) {
        if (name.equals(machine.runningImage())) {
            return PDU.inconsistentValue;
        }
        machine.drop(name);
        return PDU.noError;
    }

    private int choose(String next, String fallback) {
        if (!machine.flash().files().containsKey(next)) {
            return PDU.inconsistentValue;
        }
        machine.choose(next, fallback);
        return PDU.noError;
    }

    private synchronized int transfer() {
        if (transfer.equals(UNDER_WAY)) {
            return PDU.inconsistentValue;
        }
        transfer = UNDER_WAY;
        Thread.ofVirtual()
                .name("air-" + machine.description().name())
                .start(
                        () -> {
                            try {
                                new Fetch(machine).fetch(URI.create(source), file);
                                transfer = "done";
                            } catch (IOException | RuntimeException failed) {
                                transfer = "failed: " + failed.getMessage();
                            }
                        });
        return PDU.noError;
    }
}
