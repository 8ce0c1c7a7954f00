package dev.vacancy.internal.chunking;

import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.ObjectWriteContext;
import tools.jackson.core.json.JsonFactory;

/** Texts as a JSON array (RFC 8259), the form in which keys are kept. */
final class TextList {
    private static final JsonFactory JSON = new JsonFactory();

    private TextList() {}

    static String write(List<String> texts) {
        StringWriter written = new StringWriter();
        try (JsonGenerator json = JSON.createGenerator(ObjectWriteContext.empty(), written)) {
            json.writeStartArray();
            texts.forEach(json::writeString);
            json.writeEndArray();
        }
        return written.toString();
    }

    static List<String> read(String written) {
        List<String> texts = new ArrayList<>();
        try (JsonParser json = JSON.createParser(ObjectReadContext.empty(), written)) {
            while (json.nextToken() != null) {
                if (json.currentToken() == JsonToken.VALUE_STRING) {
                    texts.add(json.getString());
                }
            }
        }
        return texts;
    }
}
