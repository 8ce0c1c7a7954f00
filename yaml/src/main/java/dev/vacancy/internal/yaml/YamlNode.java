package dev.vacancy.internal.yaml;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.dataformat.yaml.YAMLFactory;

/** A part of a YAML document that knows its line. */
sealed interface YamlNode {
    /** The line on which it begins, from 1. */
    int line();

    /** A mapping of words to parts, in the document's order. */
    record Mapping(int line, Map<String, YamlNode> entries) implements YamlNode {
        Optional<YamlNode> get(String word) {
            return Optional.ofNullable(entries.get(word));
        }
    }

    /** A sequence of parts. */
    record Sequence(int line, List<YamlNode> items) implements YamlNode {}

    /** A single value, as it is written. */
    record Scalar(int line, String text) implements YamlNode {}

    /** Reads the first document of a text; an empty one is an empty mapping. A word that stands there twice is refused. */
    static YamlNode parse(String text) {
        YAMLFactory format = YAMLFactory.builder()
                .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                .build();
        try (JsonParser parser = format.createParser(ObjectReadContext.empty(), text)) {
            return parser.nextToken() == null ? new Mapping(1, Map.of()) : node(parser);
        }
    }

    private static YamlNode node(JsonParser parser) {
        int line = parser.currentTokenLocation().getLineNr();
        if (parser.currentToken() == JsonToken.START_OBJECT) {
            Map<String, YamlNode> entries = new LinkedHashMap<>();
            while (parser.nextToken() != JsonToken.END_OBJECT) {
                String word = parser.currentName();
                parser.nextToken();
                entries.put(word, node(parser));
            }
            return new Mapping(line, entries);
        }
        if (parser.currentToken() == JsonToken.START_ARRAY) {
            List<YamlNode> items = new ArrayList<>();
            while (parser.nextToken() != JsonToken.END_ARRAY) {
                items.add(node(parser));
            }
            return new Sequence(line, items);
        }
        return new Scalar(line, parser.currentToken() == JsonToken.VALUE_NULL ? "" : parser.getString());
    }
}
