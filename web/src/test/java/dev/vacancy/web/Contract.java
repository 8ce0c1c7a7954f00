package dev.vacancy.web;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.InputFormat;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.IOException;
import java.io.InputStream;
import java.net.http.HttpResponse;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** Holds responses against the OpenAPI document that the servlet serves. */
final class Contract {
    private final JsonNode document;

    private Contract(JsonNode document) {
        this.document = document;
    }

    static Contract served() throws IOException {
        try (InputStream stream = DeletionServlet.class.getResourceAsStream("openapi.json")) {
            return new Contract(JsonMapper.shared().readTree(stream));
        }
    }

    JsonNode document() {
        return document;
    }

    /** A response to a request that the document has must be one that it has, with such content. */
    void assertKept(String method, String path, HttpResponse<String> response) {
        if (path.contains("%2f")) {
            // The container refuses such a path before the servlet sees it.
            assertThat(response.statusCode()).isIn(400, 404);
            return;
        }
        Optional<JsonNode> operation = operation(method, path);
        if (operation.isEmpty()) {
            assertThat(response.statusCode()).as(method + " " + path).isIn(204, 400, 404, 405);
            return;
        }
        String status = String.valueOf(response.statusCode());
        JsonNode told = operation.get().path("responses").path(status);
        assertThat(told.isMissingNode())
                .as(method + " " + path + " answers " + status)
                .isFalse();
        JsonNode contents = told.path("content");
        if (contents.isMissingNode()) {
            assertThat(response.body()).isEmpty();
            return;
        }
        String type = response.headers().firstValue("Content-Type").orElse("").replaceAll(";.*", "");
        assertThat(contents.has(type)).as(path + " answers " + type).isTrue();
        JsonNode tag = told.path("headers").path("ETag");
        boolean tagged = response.headers().firstValue("ETag").isPresent();
        assertThat(tagged ? !tag.isMissingNode() : !tag.path("required").asBoolean(false))
                .as("ETag of " + method + " " + path)
                .isTrue();
        if (!method.equals("HEAD") && type.endsWith("json")) {
            ObjectNode schema = JsonMapper.shared().createObjectNode();
            schema.setAll((ObjectNode) contents.get(type).get("schema"));
            schema.set("$defs", document.get("components").get("schemas"));
            assertThat(SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
                            .getSchema(schema.toString().replace("#/components/schemas/", "#/$defs/"), InputFormat.JSON)
                            .validate(response.body(), InputFormat.JSON))
                    .as(method + " " + path + ": " + response.body())
                    .isEmpty();
        }
    }

    private Optional<JsonNode> operation(String method, String path) {
        String verb = method.equals("HEAD") ? "get" : method.toLowerCase(Locale.ROOT);
        String plain = path.replaceAll("\\?.*", "");
        return document.get("paths").properties().stream()
                .filter(entry -> Pattern.matches(entry.getKey().replaceAll("\\{[^}]+}", "[^/]+"), plain))
                .map(Map.Entry::getValue)
                .filter(operations -> operations.has(verb))
                .map(operations -> operations.get(verb))
                .findFirst();
    }
}
