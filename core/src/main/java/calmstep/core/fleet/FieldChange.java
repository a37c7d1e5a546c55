package calmstep.core.fleet;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * A field of a device that an import, or a person, changes.
 *
 * @param field as the inventory file calls it
 * @param before empty where it was not there
 * @param after empty where it is gone
 */
public record FieldChange(String device, String field, String before, String after) {
    /** All from one description of a device to another, in the file's order. */
    public static List<FieldChange> between(Device before, Device after) {
        Map<String, Object> was = InventoryTree.of(before);
        Map<String, Object> is = InventoryTree.of(after);
        Set<String> fields = new LinkedHashSet<>(was.keySet());
        fields.addAll(is.keySet());
        List<FieldChange> changes = new ArrayList<>();
        for (String field : fields) {
            String one = text(was.get(field));
            String other = text(is.get(field));
            if (!one.equals(other)) {
                changes.add(new FieldChange(after.name(), field, one, other));
            }
        }
        return changes;
    }

    private static String text(@Nullable Object value) {
        return switch (value) {
            case null -> "";
            case List<?> list -> String.join(", ", list.stream().map(String::valueOf).toList());
            default -> String.valueOf(value);
        };
    }

    public String sentence() {
        return "%s %s: %s, was %s"
                .formatted(
                        device,
                        field,
                        after.isEmpty() ? "none" : after,
                        before.isEmpty() ? "none" : before);
    }
}
