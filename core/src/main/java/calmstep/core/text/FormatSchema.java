package calmstep.core.text;

import com.networknt.schema.Error;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SchemaRegistryConfig;
import com.networknt.schema.SpecificationVersion;
import com.networknt.schema.path.NodePath;
import java.io.InputStream;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.nodes.Tag;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * The JSON Schema (2020-12) of one of our formats: the file in {@code docs/formats} that editors
 * use, and no other.
 */
final class FormatSchema {
    private static final JsonNodeFactory TREE = JsonNodeFactory.instance;
    private static final Map<String, FormatSchema> READ = new ConcurrentHashMap<>();

    /** The library would else speak the language of the machine. */
    private static final SchemaRegistryConfig IN_ENGLISH =
            SchemaRegistryConfig.builder().locale(Locale.ROOT).build();

    private final Schema schema;

    private FormatSchema(Schema schema) {
        this.schema = schema;
    }

    static FormatSchema of(String format) {
        return READ.computeIfAbsent(format, FormatSchema::read);
    }

    private static FormatSchema read(String format) {
        InputStream in =
                FormatSchema.class.getResourceAsStream(
                        "/calmstep/formats/%s.schema.json".formatted(format));
        if (in == null) {
            throw new IllegalArgumentException(
                    "There is no schema of the format \"%s\"".formatted(format));
        }
        return new FormatSchema(
                SchemaRegistry.withDefaultDialect(
                                SpecificationVersion.DRAFT_2020_12,
                                registry -> registry.schemaRegistryConfig(IN_ENGLISH))
                        .getSchema(in));
    }

    /** What the schema refuses, each at its line and column. */
    List<Complaint> complaints(String file, MappingNode top) {
        return schema.validate(treeOf(top)).stream()
                .map(error -> complaint(file, top, error))
                .toList();
    }

    private static Complaint complaint(String file, Node top, Error error) {
        Node at = at(top, error.getInstanceLocation());
        String property = Optional.ofNullable(error.getProperty()).orElse("");
        return switch (error.getKeyword()) {
            case "additionalProperties" ->
                    new Complaint(
                            Section.spotOf(file, key(at, property)),
                            "The key \"%s\" is not known here.".formatted(property));
            case "required" ->
                    new Complaint(
                            Section.spotOf(file, at),
                            "The key \"%s\" is missing here; add it.".formatted(property));
            default -> notAllowed(file, at, error);
        };
    }

    private static Complaint notAllowed(String file, Node at, Error error) {
        return new Complaint(
                Section.spotOf(file, at),
                "The format's schema does not allow %s here: %s."
                        .formatted(Section.kindOf(at), error.getMessage()));
    }

    private static Node at(Node top, NodePath path) {
        Node node = top;
        for (int i = 0; i < path.getNameCount(); i++) {
            Object step = path.getElement(i);
            node = child(node, step);
        }
        return node;
    }

    private static Node child(Node node, Object step) {
        return switch (node) {
            case MappingNode mapping ->
                    value(mapping, String.valueOf(step))
                            .map(NodeTuple::getValueNode)
                            .orElse(mapping);
            case SequenceNode list
                    when step instanceof Integer index && index < list.getValue().size() ->
                    list.getValue().get(index);
            default -> node;
        };
    }

    private static Node key(Node node, String name) {
        return node instanceof MappingNode mapping
                ? value(mapping, name).map(NodeTuple::getKeyNode).orElse(node)
                : node;
    }

    private static Optional<NodeTuple> value(MappingNode mapping, String name) {
        return mapping.getValue().stream()
                .filter(
                        t ->
                                t.getKeyNode() instanceof ScalarNode scalar
                                        && scalar.getValue().equals(name))
                .findFirst();
    }

    private static JsonNode treeOf(Node node) {
        return switch (node) {
            case MappingNode mapping -> {
                ObjectNode object = objectOf(mapping);
                yield object;
            }
            case SequenceNode list -> {
                ArrayNode array = TREE.arrayNode();
                list.getValue().forEach(item -> array.add(treeOf(item)));
                yield array;
            }
            case ScalarNode scalar -> scalarOf(scalar);
            default -> TREE.nullNode();
        };
    }

    private static ObjectNode objectOf(MappingNode mapping) {
        ObjectNode object = TREE.objectNode();
        mapping.getValue()
                .forEach(
                        t ->
                                object.set(
                                        t.getKeyNode() instanceof ScalarNode scalar
                                                ? scalar.getValue()
                                                : Section.kindOf(t.getKeyNode()),
                                        treeOf(t.getValueNode())));
        return object;
    }

    /** As YAML's core schema reads it. */
    private static JsonNode scalarOf(ScalarNode scalar) {
        String text = scalar.getValue();
        try {
            if (scalar.getTag().equals(Tag.INT)) {
                return TREE.numberNode(Long.decode(text.replace("0o", "0")));
            }
            if (scalar.getTag().equals(Tag.FLOAT)) {
                return TREE.numberNode(Double.parseDouble(text));
            }
        } catch (NumberFormatException outOfRange) {
            return TREE.stringNode(text);
        }
        if (scalar.getTag().equals(Tag.BOOL)) {
            return TREE.booleanNode(Boolean.parseBoolean(text));
        }
        return scalar.getTag().equals(Tag.NULL) ? TREE.nullNode() : TREE.stringNode(text);
    }
}
