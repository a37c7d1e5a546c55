package calmstep.service.json;

import calmstep.core.wave.FitsNowhere;
import calmstep.core.wave.Held;
import calmstep.core.wave.Limit;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Records as JSON texts. */
@Component
public class Json {
    private final JsonMapper mapper;

    @JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "is")
    private interface Named {}

    Json(JsonMapper mapper) {
        // Explanations are sealed types; what is kept names which one it is.
        this.mapper = mapper.rebuild().addMixIn(Held.class, Named.class).addMixIn(Limit.class, Named.class).addMixIn(FitsNowhere.Reason.class, Named.class).addMixIn(FitsNowhere.Change.class, Named.class).build();
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
