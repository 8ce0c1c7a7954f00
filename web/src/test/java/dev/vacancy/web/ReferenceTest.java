package dev.vacancy.web;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The page of what can be asked for over HTTP says what the OpenAPI document says; {@code -Dvacancy.test.write=true} writes it anew. */
class ReferenceTest {
    private static final Path PAGE = Path.of("../docs/reference/http.md");
    private static final List<String> METHODS = List.of("get", "post", "put", "patch", "delete");

    @Test
    void thePageHasEachRequest() throws Exception {
        StringBuilder page = new StringBuilder("""
                # HTTP

                What the servlet answers, as in `GET /openapi.json` (OpenAPI 3.1), where the content of each request and response is described
                too. [The guide](../guide/http.md) says how they go together. Failures are problem details (RFC 9457) with
                [codes](failure-codes.md).

                """);
        try (InputStream stream = DeletionServlet.class.getResourceAsStream("openapi.json")) {
            for (Map.Entry<String, JsonNode> path :
                    JsonMapper.shared().readTree(stream).get("paths").properties()) {
                METHODS.stream()
                        .filter(path.getValue()::has)
                        .forEach(method -> page.append(
                                operation(method, path.getKey(), path.getValue().get(method))));
            }
        }
        if (Boolean.getBoolean("vacancy.test.write")) {
            Files.writeString(PAGE, page.toString().strip() + "\n");
        }

        assertThat(PAGE).content().isEqualTo(page.toString().strip() + "\n");
    }

    private static String operation(String method, String path, JsonNode operation) {
        String query = named(operation, "query");
        String header = named(operation, "header");
        String statuses = operation.get("responses").properties().stream()
                .map(Map.Entry::getKey)
                .collect(Collectors.joining(", "));
        return "## `" + method.toUpperCase(Locale.ROOT) + " " + path + "`\n\n"
                + operation.path("summary").asString() + "\n\n"
                + (query.isEmpty() ? "" : "- Parameters: " + query + "\n")
                + (header.isEmpty() ? "" : "- Header fields: " + header + "\n")
                + "- Answers: " + statuses + "\n\n";
    }

    private static String named(JsonNode operation, String place) {
        return operation
                .path("parameters")
                .valueStream()
                .filter(parameter -> parameter.path("in").asString().equals(place))
                .map(parameter -> "`" + parameter.path("name").asString() + "`")
                .distinct()
                .collect(Collectors.joining(", "));
    }
}
