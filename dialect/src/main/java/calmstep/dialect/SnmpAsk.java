package calmstep.dialect;

import java.io.IOException;
import java.net.InetAddress;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.snmp4j.CommunityTarget;
import org.snmp4j.MessageDispatcherImpl;
import org.snmp4j.PDU;
import org.snmp4j.ScopedPDU;
import org.snmp4j.Snmp;
import org.snmp4j.Target;
import org.snmp4j.UserTarget;
import org.snmp4j.event.ResponseEvent;
import org.snmp4j.mp.MPv2c;
import org.snmp4j.mp.MPv3;
import org.snmp4j.mp.SnmpConstants;
import org.snmp4j.security.AuthHMAC192SHA256;
import org.snmp4j.security.AuthHMAC384SHA512;
import org.snmp4j.security.AuthSHA;
import org.snmp4j.security.PrivAES128;
import org.snmp4j.security.PrivAES256;
import org.snmp4j.security.SecurityLevel;
import org.snmp4j.security.USM;
import org.snmp4j.security.UsmUser;
import org.snmp4j.smi.Null;
import org.snmp4j.smi.OID;
import org.snmp4j.smi.OctetString;
import org.snmp4j.smi.UdpAddress;
import org.snmp4j.smi.Variable;
import org.snmp4j.smi.VariableBinding;
import org.snmp4j.transport.DefaultUdpTransportMapping;

/**
 * Asks devices who they are, by SNMP v2c or v3: the system group (RFC 3418) and the chassis of the
 * entity table (RFC 6933). One socket for all of them.
 */
public final class SnmpAsk implements AutoCloseable {
    private static final OID DESCRIPTION = new OID("1.3.6.1.2.1.1.1.0");
    private static final OID OBJECT = new OID("1.3.6.1.2.1.1.2.0");
    private static final OID HOST_NAME = new OID("1.3.6.1.2.1.1.5.0");
    private static final String ENTITY = "1.3.6.1.2.1.47.1.1.1.1.";
    private static final OID CLASS = new OID(ENTITY + "5");
    private static final String HARDWARE_REVISION = ENTITY + "8";
    private static final String SOFTWARE_REVISION = ENTITY + "10";
    private static final String SERIAL = ENTITY + "11";
    private static final String MODEL = ENTITY + "13";
    private static final int CHASSIS = 3;

    /**
     * The chassis stands near the top of the table; a box that hides it deeper is asked for no
     * more.
     */
    private static final int ROWS_LOOKED_AT = 24;

    private static final int RETRIES = 1;

    private final Snmp snmp;
    private final Target<UdpAddress> target;

    private SnmpAsk(Snmp snmp, Target<UdpAddress> target) {
        this.snmp = snmp;
        this.target = target;
    }

    /**
     * @param within how long one answer may take
     * @throws IOException when no socket can be had
     */
    public static SnmpAsk as(SnmpLogin login, Duration within) throws IOException {
        MessageDispatcherImpl dispatcher = new MessageDispatcherImpl();
        USM usm = new USM(new RememberedKeys(), new OctetString(MPv3.createLocalEngineID()), 0);
        dispatcher.addMessageProcessingModel(new MPv2c());
        dispatcher.addMessageProcessingModel(new MPv3(usm));
        Snmp snmp = new Snmp(dispatcher, new DefaultUdpTransportMapping());
        Target<UdpAddress> target =
                switch (login) {
                    case SnmpLogin.Community community -> {
                        CommunityTarget<UdpAddress> plain = new CommunityTarget<>();
                        plain.setCommunity(new OctetString(community.word()));
                        plain.setVersion(SnmpConstants.version2c);
                        yield plain;
                    }
                    case SnmpLogin.User user -> {
                        usm.addUser(usmUser(user));
                        UserTarget<UdpAddress> secured = new UserTarget<>();
                        secured.setSecurityName(new OctetString(user.name()));
                        secured.setSecurityLevel(
                                user.privacy() == SnmpLogin.Privacy.NONE
                                        ? SecurityLevel.AUTH_NOPRIV
                                        : SecurityLevel.AUTH_PRIV);
                        secured.setVersion(SnmpConstants.version3);
                        yield secured;
                    }
                };
        target.setTimeout(within.toMillis());
        target.setRetries(RETRIES);
        snmp.listen();
        return new SnmpAsk(snmp, target);
    }

    private static UsmUser usmUser(SnmpLogin.User user) {
        OID authentication =
                switch (user.authentication()) {
                    case SHA1 -> AuthSHA.ID;
                    case SHA256 -> AuthHMAC192SHA256.ID;
                    case SHA512 -> AuthHMAC384SHA512.ID;
                };
        return switch (user.privacy()) {
            case NONE ->
                    new UsmUser(
                            new OctetString(user.name()),
                            authentication,
                            new OctetString(user.password()),
                            null,
                            null);
            case AES128 ->
                    new UsmUser(
                            new OctetString(user.name()),
                            authentication,
                            new OctetString(user.password()),
                            PrivAES128.ID,
                            new OctetString(user.privacyPassword()));
            case AES256 ->
                    new UsmUser(
                            new OctetString(user.name()),
                            authentication,
                            new OctetString(user.password()),
                            PrivAES256.ID,
                            new OctetString(user.privacyPassword()));
        };
    }

    /** No answer came. */
    static final class Silent extends IOException {
        Silent() {
            super("no answer");
        }
    }

    /**
     * @param error what the device says against it; empty where it did as asked
     */
    record Answered(Map<OID, Variable> values, String error) {}

    /** One device, asked about objects by their numbers. Closes this socket with it. */
    Device device(String host, int port) throws IOException {
        Target<UdpAddress> device = target.duplicate();
        device.setAddress(new UdpAddress(InetAddress.getByName(host), port));
        return new Device(device);
    }

    /**
     * What can be asked of one device. Every method throws {@link Silent} when it does not answer.
     */
    final class Device implements AutoCloseable {
        /** A table that never ends is a device's mistake, not ours to wait for. */
        private static final int OBJECTS_AT_MOST = 20_000;

        private static final int AT_ONCE = 40;
        private final Target<UdpAddress> device;

        private Device(Target<UdpAddress> device) {
            this.device = device;
        }

        Map<OID, Variable> get(List<OID> oids) throws IOException {
            PDU request = pdu(PDU.GET);
            oids.forEach(oid -> request.add(new VariableBinding(oid)));
            return answered(heard(request));
        }

        Answered set(OID oid, Variable value) throws IOException {
            PDU request = pdu(PDU.SET);
            request.add(new VariableBinding(oid, value));
            ResponseEvent<?> event = heard(request);
            PDU answer = event.getResponse();
            return new Answered(
                    answered(event),
                    answer.getErrorStatus() == PDU.noError ? "" : answer.getErrorStatusText());
        }

        /** Everything below a number. */
        Map<OID, Variable> walk(OID root) throws IOException {
            Map<OID, Variable> found = new HashMap<>();
            OID at = root;
            while (found.size() < OBJECTS_AT_MOST) {
                PDU request = pdu(PDU.GETBULK);
                request.setMaxRepetitions(AT_ONCE);
                request.add(new VariableBinding(at));
                PDU answer = heard(request).getResponse();
                for (VariableBinding binding : answer.getVariableBindings()) {
                    if (binding.isException()
                            || !binding.getOid().startsWith(root)
                            || binding.getOid().compareTo(at) <= 0) {
                        return found;
                    }
                    at = binding.getOid();
                    found.put(at, binding.getVariable());
                }
                if (answer.size() == 0) {
                    return found;
                }
            }
            return found;
        }

        private ResponseEvent<?> heard(PDU request) throws IOException {
            ResponseEvent<?> event = snmp.send(request, device);
            if (event == null
                    || event.getResponse() == null
                    || event.getResponse().getType() != PDU.RESPONSE) {
                throw new Silent();
            }
            return event;
        }

        @Override
        public void close() {
            try {
                SnmpAsk.this.close();
            } catch (IOException alreadyGone) {
                // It is gone already, which is what closing is for.
            }
        }
    }

    /** What a device says of itself; empty when it does not answer, or not to this login. */
    public Optional<Recognition.Shows> who(String host, int port) throws IOException {
        Target<UdpAddress> device = target.duplicate();
        device.setAddress(new UdpAddress(InetAddress.getByName(host), port));
        Map<OID, Variable> system = get(device, List.of(DESCRIPTION, OBJECT, HOST_NAME));
        if (system.isEmpty()) {
            return Optional.empty();
        }
        Map<OID, Variable> chassis = new HashMap<>();
        String row = chassisRow(device).orElse("");
        if (!row.isEmpty()) {
            readChassis(chassis, device, row);
        }
        return Optional.of(shows(system, chassis, row));
    }

    private static Recognition.Shows shows(
            Map<OID, Variable> system, Map<OID, Variable> chassis, String row) {
        return new Recognition.Shows(
                "",
                text(system, OBJECT),
                text(system, HOST_NAME),
                text(system, DESCRIPTION),
                text(chassis, new OID(MODEL + row)),
                text(chassis, new OID(HARDWARE_REVISION + row)),
                text(chassis, new OID(SERIAL + row)),
                text(chassis, new OID(SOFTWARE_REVISION + row)));
    }

    private void readChassis(Map<OID, Variable> chassis, Target<UdpAddress> device, String row)
            throws IOException {
        chassis.putAll(
                get(
                        device,
                        List.of(
                                new OID(MODEL + row),
                                new OID(HARDWARE_REVISION + row),
                                new OID(SERIAL + row),
                                new OID(SOFTWARE_REVISION + row))));
    }

    private static String text(Map<OID, Variable> found, OID oid) {
        return Optional.ofNullable(found.get(oid))
                .map(Variable::toString)
                .map(String::strip)
                .orElse("");
    }

    private Map<OID, Variable> get(Target<UdpAddress> device, List<OID> oids) throws IOException {
        PDU request = pdu(PDU.GET);
        oids.forEach(oid -> request.add(new VariableBinding(oid)));
        return answered(snmp.send(request, device));
    }

    private PDU pdu(int type) {
        PDU request = target.getVersion() == SnmpConstants.version3 ? new ScopedPDU() : new PDU();
        request.setType(type);
        return request;
    }

    /**
     * What was answered; a value that the device does not have is left out, and so is everything
     * when it refuses (a report, an error).
     */
    private static Map<OID, Variable> answered(ResponseEvent<?> event) {
        Map<OID, Variable> found = new HashMap<>();
        PDU answer = event.getResponse();
        if (answer != null
                && answer.getType() == PDU.RESPONSE
                && answer.getErrorStatus() == PDU.noError) {
            answer.getVariableBindings().stream()
                    .filter(b -> !b.isException() && !(b.getVariable() instanceof Null))
                    .forEach(b -> found.put(b.getOid(), b.getVariable()));
        }
        return found;
    }

    /** The index of the first chassis, as {@code .1}. */
    private Optional<String> chassisRow(Target<UdpAddress> device) throws IOException {
        OID at = CLASS;
        for (int i = 0; i < ROWS_LOOKED_AT; i++) {
            PDU request = pdu(PDU.GETNEXT);
            request.add(new VariableBinding(at));
            Optional<Map.Entry<OID, Variable>> next =
                    answered(snmp.send(request, device)).entrySet().stream().findFirst();
            if (next.isEmpty() || !next.get().getKey().startsWith(CLASS)) {
                return Optional.empty();
            }
            at = next.get().getKey();
            if (next.get().getValue().toInt() == CHASSIS) {
                return Optional.of(at.toDottedString().substring(CLASS.toDottedString().length()));
            }
        }
        return Optional.empty();
    }

    @Override
    public void close() throws IOException {
        snmp.close();
    }
}
