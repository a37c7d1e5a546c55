package calmstep.core.fleet;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * An inventory as a tree of maps, lists and values, in the shape and order of its file format; what
 * is as usual is left out.
 */
public final class InventoryTree {
    private InventoryTree() {}

    public static Map<String, Object> of(Inventory inventory) {
        Map<String, Object> top = new LinkedHashMap<>();
        top.put("inventory", 1);
        top.put("sites", inventory.sites().stream().map(InventoryTree::of).toList());
        top.put("devices", inventory.devices().stream().map(InventoryTree::of).toList());
        return top;
    }

    private static Map<String, Object> of(Site site) {
        Map<String, Object> tree = new LinkedHashMap<>();
        tree.put("name", site.name());
        tree.put("title", site.title());
        tree.put("zone", site.zone().getId());
        put(tree, "contacts", site.contacts());
        return tree;
    }

    static Map<String, Object> of(Device device) {
        Map<String, Object> tree = new LinkedHashMap<>();
        tree.put("name", device.name());
        tree.put("family", device.family());
        put(tree, "model", device.hardware().model());
        put(tree, "revision", device.hardware().revision());
        put(tree, "region", device.hardware().region());
        put(tree, "brand", device.hardware().brand());
        put(tree, "features", List.copyOf(device.hardware().features()));
        put(tree, "serial", device.serial());
        tree.put("site", device.site());
        put(tree, "role", device.role());
        put(tree, "tags", List.copyOf(device.tags()));
        tree.put("address", device.address());
        if (device.port() != InventoryText.USUAL_PORT) {
            tree.put("port", device.port());
        }
        if (device.consolePort() != 0) {
            tree.put("console-port", device.consolePort());
        }
        tree.put(
                "login",
                device.logins().size() == 1 ? device.logins().getFirst() : device.logins());
        put(tree, "via", device.way().via().stream().map(Way.Stop::toString).toList());
        put(tree, "console", device.way().console().map(Way.Stop::toString).orElse(""));
        put(tree, "old-algorithms", List.copyOf(device.way().oldAlgorithms()));
        put(tree, "medium", device.way().medium().orElse(""));
        tree.put("entitled", device.entitled());
        put(tree, "serves", device.serves());
        put(tree, "links", List.copyOf(device.wiring().links()));
        if (device.wiring().root()) {
            tree.put("root", true);
        }
        put(tree, "redundancy", List.copyOf(device.wiring().redundancy()));
        put(tree, "fed-by", device.wiring().fedBy().orElse(""));
        put(tree, "runs", new TreeMap<>(device.runs()));
        put(tree, "parts", device.parts().stream().map(InventoryTree::of).toList());
        return tree;
    }

    private static Map<String, Object> of(Part part) {
        Map<String, Object> tree = new LinkedHashMap<>();
        tree.put("name", part.name());
        tree.put("kind", part.kind().toString());
        put(tree, "model", part.model());
        put(tree, "serial", part.serial());
        put(tree, "runs", part.runs());
        put(tree, "parts", part.parts().stream().map(InventoryTree::of).toList());
        return tree;
    }

    private static void put(Map<String, Object> tree, String key, Object value) {
        boolean empty =
                (value instanceof String text && text.isEmpty())
                        || (value instanceof List<?> list && list.isEmpty())
                        || (value instanceof Map<?, ?> map && map.isEmpty());
        if (!empty) {
            tree.put(key, value);
        }
    }
}
