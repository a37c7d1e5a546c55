package calmstep.dialect;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * How a family is recognised by what a device shows before anybody signs in.
 *
 * @param sshGreeting in the line that an SSH server sends first (RFC 4253, section 4.2)
 * @param snmpObject in its sysObjectID (RFC 3418)
 * @param snmpDescription in its sysDescr (RFC 3418); may have the groups {@code model}, {@code
 *     revision}, {@code serial} and {@code release}
 */
public record Recognition(
        Optional<Pattern> sshGreeting,
        Optional<Pattern> snmpObject,
        Optional<Pattern> snmpDescription) {
    static final Recognition NONE =
            new Recognition(Optional.empty(), Optional.empty(), Optional.empty());

    /**
     * Whether anything of what a device shows is this family's. Its object identifier decides where
     * both sides give one.
     */
    public boolean recognises(Shows shows) {
        if (snmpObject.isPresent() && !shows.object().isEmpty()) {
            return found(snmpObject, shows.object());
        }
        return found(sshGreeting, shows.greeting()) || found(snmpDescription, shows.description());
    }

    private static boolean found(Optional<Pattern> pattern, String text) {
        return !text.isEmpty() && pattern.filter(p -> p.matcher(text).find()).isPresent();
    }

    /**
     * What the device shows, completed by what its description and greeting say in this family's
     * way.
     */
    public Shows completed(Shows shows) {
        return new Shows(
                shows.greeting(),
                shows.object(),
                shows.hostName(),
                shows.description(),
                first(shows.model(), "model", shows),
                first(shows.revision(), "revision", shows),
                first(shows.serial(), "serial", shows),
                first(shows.release(), "release", shows));
    }

    private String first(String known, String group, Shows shows) {
        return known.isEmpty()
                ? Stream.of(
                                group(snmpDescription, shows.description(), group),
                                group(sshGreeting, shows.greeting(), group))
                        .flatMap(Optional::stream)
                        .findFirst()
                        .orElse("")
                : known;
    }

    private static Optional<String> group(Optional<Pattern> pattern, String text, String group) {
        return pattern.filter(p -> p.namedGroups().containsKey(group))
                .map(p -> p.matcher(text))
                .filter(Matcher::find)
                .map(m -> m.group(group));
    }

    /**
     * What a device shows to anybody, or to whoever may read it by SNMP; empty where it shows
     * nothing.
     */
    public record Shows(
            String greeting,
            String object,
            String hostName,
            String description,
            String model,
            String revision,
            String serial,
            String release) {
        public boolean nothing() {
            return greeting.isEmpty() && object.isEmpty() && description.isEmpty();
        }
    }
}
