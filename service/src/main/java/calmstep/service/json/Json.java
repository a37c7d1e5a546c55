package calmstep.service.json;

import calmstep.core.wave.FitsNowhere;
import calmstep.core.wave.Held;
import calmstep.core.wave.Limit;
import com.fasterxml.jackson.annotation.JsonSetter;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.annotation.Nulls;
import java.util.List;
import java.util.SortedMap;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** Records as JSON texts. */
@Component
public class Json {
    private final JsonMapper mapper;

    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "is")
    private interface Named {}

    private static final JsonSetter.Value EMPTY = JsonSetter.Value.forValueNulls(Nulls.AS_EMPTY);

    Json(JsonMapper mapper) {
        // Explanations are sealed types; what is kept names which one it is.
        this.mapper =
                mapper.rebuild()
                        .addMixIn(Held.class, Named.class)
                        .addMixIn(Limit.class, Named.class)
                        .addMixIn(FitsNowhere.Reason.class, Named.class)
                        .addMixIn(FitsNowhere.Change.class, Named.class)
                        // What an earlier version kept lacks what records have learnt since: it is
                        // empty then, not null.
                        .withConfigOverride(List.class, override -> override.setNullHandling(EMPTY))
                        .withConfigOverride(
                                SortedMap.class, override -> override.setNullHandling(EMPTY))
                        .withConfigOverride(
                                String.class, override -> override.setNullHandling(EMPTY))
                        .disable(DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES)
                        .build();
    }

    public String write(Object value) {
        return mapper.writeValueAsString(value);
    }

    public <T> T read(String text, Class<T> type) {
        return mapper.readValue(text, type);
    }

    public <T> T read(String text, TypeReference<T> type) {
        return mapper.readValue(text, type);
    }
}
