package calmstep.practice;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.management.ManagementFactory;
import java.net.InetAddress;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.snmp4j.CommandResponder;
import org.snmp4j.CommandResponderEvent;
import org.snmp4j.MessageDispatcherImpl;
import org.snmp4j.MessageException;
import org.snmp4j.PDU;
import org.snmp4j.Snmp;
import org.snmp4j.mp.MPv2c;
import org.snmp4j.mp.MPv3;
import org.snmp4j.mp.StatusInformation;
import org.snmp4j.security.AuthHMAC192SHA256;
import org.snmp4j.security.PrivAES128;
import org.snmp4j.security.SecurityProtocols;
import org.snmp4j.security.USM;
import org.snmp4j.security.UsmUser;
import org.snmp4j.smi.Address;
import org.snmp4j.smi.Integer32;
import org.snmp4j.smi.Null;
import org.snmp4j.smi.OID;
import org.snmp4j.smi.OctetString;
import org.snmp4j.smi.TimeTicks;
import org.snmp4j.smi.UdpAddress;
import org.snmp4j.smi.Variable;
import org.snmp4j.smi.VariableBinding;
import org.snmp4j.transport.DefaultUdpTransportMapping;

/**
 * The SNMP side of one stand-in: answers GET and GETNEXT on the system group (RFC 3418) and on an
 * entity table (RFC 6933) with a power supply and the chassis. It speaks one version only: v2c to
 * its community, or v3 to its user (SHA-256, AES-128). Others get no answer, as on a real device.
 */
final class SnmpPort implements AutoCloseable {
    /** How the SNMP side of a fleet is opened, the same for all of its stand-ins. */
    record Access(
            int port, String community, String user, String password, String privacyPassword) {}

    /** What the device shows. */
    record Shown(
            String description,
            String object,
            String hostName,
            String model,
            String revision,
            String serial,
            String release) {}

    private static final String ENTITY = "1.3.6.1.2.1.47.1.1.1.1.";
    private static final int REPEATS_AT_MOST = 25;
    private static final int POWER_SUPPLY = 6;
    private static final int CHASSIS = 3;

    private final Snmp snmp;
    private final Access access;
    private final boolean version3;
    private final Supplier<Optional<Shown>> shown;
    private final Optional<Objects> objects;

    /** Objects of a family's own. */
    interface Objects {
        /** All of them, as they are now. */
        NavigableMap<OID, Variable> values();

        /**
         * Writes one.
         *
         * @return the error status of RFC 3416, section 3; 0 for none
         */
        int set(OID number, Variable value);
    }

    /**
     * @param shown what it shows now; empty while it is down
     * @param objects of its family's own, where it is spoken to over them
     */
    SnmpPort(
            String address,
            Access access,
            boolean version3,
            Supplier<Optional<Shown>> shown,
            Optional<Objects> objects) {
        this.objects = objects;
        this.access = access;
        this.version3 = version3;
        this.shown = shown;
        try {
            MessageDispatcherImpl dispatcher = new MessageDispatcherImpl();
            byte[] engine = MPv3.createLocalEngineID(new OctetString(address));
            if (version3) {
                dispatcher.addMessageProcessingModel(new MPv3(users(engine)));
            } else {
                dispatcher.addMessageProcessingModel(new MPv2c());
            }
            snmp =
                    new Snmp(
                            dispatcher,
                            new DefaultUdpTransportMapping(
                                    new UdpAddress(InetAddress.getByName(address), access.port())));
            snmp.addCommandResponder(
                    new CommandResponder() {
                        @Override
                        public <A extends Address> void processPdu(CommandResponderEvent<A> event) {
                            answer(event);
                        }
                    });
            snmp.listen();
        } catch (IOException refused) {
            throw new UncheckedIOException(
                    "The address %s:%s cannot be opened for SNMP".formatted(address, access.port()),
                    refused);
        }
    }

    private USM users(byte[] engine) {
        SecurityProtocols protocols =
                new SecurityProtocols(SecurityProtocols.SecurityProtocolSet.maxCompatibility);
        protocols.addAuthenticationProtocol(new AuthHMAC192SHA256());
        USM usm = new USM(protocols, new OctetString(engine), 1);
        usm.addUser(
                new UsmUser(
                        new OctetString(access.user()),
                        AuthHMAC192SHA256.ID,
                        new OctetString(access.password()),
                        PrivAES128.ID,
                        new OctetString(access.privacyPassword())));
        return usm;
    }

    private <A extends Address> void answer(CommandResponderEvent<A> event) {
        Optional<Shown> now = shown.get();
        String known = version3 ? access.user() : access.community();
        PDU request = event.getPDU();
        if (request == null
                || now.isEmpty()
                || !known.equals(new OctetString(event.getSecurityName()).toString())) {
            return;
        }
        event.setProcessed(true);
        NavigableMap<OID, Variable> values = values(now.get());
        objects.ifPresent(own -> values.putAll(own.values()));
        PDU answer = (PDU) request.clone();
        answer.setType(PDU.RESPONSE);
        answer.setErrorStatus(PDU.noError);
        answer.clear();
        answer.setRequestID(request.getRequestID());
        switch (request.getType()) {
            case PDU.GETNEXT ->
                    request.getVariableBindings()
                            .forEach(asked -> answer.add(next(values, asked.getOid())));
            case PDU.GETBULK ->
                    request.getVariableBindings()
                            .forEach(
                                    asked ->
                                            following(
                                                            values,
                                                            asked.getOid(),
                                                            Math.min(
                                                                    request.getMaxRepetitions(),
                                                                    REPEATS_AT_MOST))
                                                    .forEach(answer::add));
            case PDU.SET -> set(request, answer);
            default ->
                    request.getVariableBindings()
                            .forEach(asked -> answer.add(exactly(values, asked.getOid())));
        }
        try {
            event.getMessageDispatcher()
                    .returnResponsePdu(
                            event.getMessageProcessingModel(),
                            event.getSecurityModel(),
                            event.getSecurityName(),
                            event.getSecurityLevel(),
                            answer,
                            event.getMaxSizeResponsePDU(),
                            event.getStateReference(),
                            new StatusInformation());
        } catch (MessageException unsent) {
            System.err.printf("An SNMP answer could not be sent: %s%n", unsent.getMessage());
        }
    }

    private void set(PDU request, PDU answer) {
        for (int i = 0; i < request.size(); i++) {
            VariableBinding asked = request.get(i);
            int error =
                    objects.map(own -> own.set(asked.getOid(), asked.getVariable()))
                            .orElse(PDU.notWritable);
            answer.add(asked);
            if (error != PDU.noError) {
                answer.setErrorStatus(error);
                answer.setErrorIndex(i + 1);
            }
        }
    }

    private static List<VariableBinding> following(
            NavigableMap<OID, Variable> values, OID oid, int count) {
        List<VariableBinding> found = new ArrayList<>();
        OID at = oid;
        while (found.size() < count) {
            VariableBinding next = next(values, at);
            found.add(next);
            if (next.isException()) {
                break;
            }
            at = next.getOid();
        }
        return found;
    }

    private static VariableBinding exactly(NavigableMap<OID, Variable> values, OID oid) {
        return new VariableBinding(
                oid, Optional.ofNullable(values.get(oid)).orElse(Null.noSuchInstance));
    }

    private static VariableBinding next(NavigableMap<OID, Variable> values, OID oid) {
        return Optional.ofNullable(values.higherEntry(oid))
                .map(e -> new VariableBinding(e.getKey(), e.getValue()))
                .orElse(new VariableBinding(oid, Null.endOfMibView));
    }

    private static NavigableMap<OID, Variable> values(Shown now) {
        NavigableMap<OID, Variable> values = new TreeMap<>();
        values.put(new OID("1.3.6.1.2.1.1.1.0"), new OctetString(now.description()));
        values.put(new OID("1.3.6.1.2.1.1.2.0"), new OID(now.object()));
        values.put(
                new OID("1.3.6.1.2.1.1.3.0"),
                new TimeTicks(ManagementFactory.getRuntimeMXBean().getUptime() / 10));
        values.put(new OID("1.3.6.1.2.1.1.5.0"), new OctetString(now.hostName()));
        values.put(new OID(ENTITY + "5.1"), new Integer32(POWER_SUPPLY));
        values.put(new OID(ENTITY + "5.2"), new Integer32(CHASSIS));
        Map.of("8", now.revision(), "10", now.release(), "11", now.serial(), "13", now.model())
                .forEach(
                        (column, text) ->
                                values.put(new OID(ENTITY + column + ".2"), new OctetString(text)));
        return values;
    }

    @Override
    public void close() {
        try {
            snmp.close();
        } catch (IOException alreadyGone) {
            // It is gone already, which is what closing is for.
        }
    }
}
