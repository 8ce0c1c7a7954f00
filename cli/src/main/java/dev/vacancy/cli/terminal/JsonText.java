package dev.vacancy.cli.terminal;

import java.util.LinkedHashMap;
import java.util.Map;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** Writes the core's views as JSON (RFC 8259). {@code docs/output.schema.json} describes the result. */
public final class JsonText {
    private static final JsonMapper MAPPER = JsonMapper.builder()
            .enable(SerializationFeature.INDENT_OUTPUT)
            .disable(MapperFeature.SORT_PROPERTIES_ALPHABETICALLY)
            .build();
    private static final TypeReference<LinkedHashMap<String, Object>> OBJECT = new TypeReference<>() {};

    private JsonText() {}

    public static String write(Object view) {
        return MAPPER.writeValueAsString(view);
    }

    /** What a view's JSON object consists of, to be joined with that of another one. */
    public static Map<String, Object> parts(Object view) {
        return MAPPER.convertValue(view, OBJECT);
    }
}
