package dev.vacancy.web;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Whoever makes a native image is told every file that the servlet serves. */
class NativeHintsTest {
    private static final Path RESOURCES = Path.of("src/main/resources");

    @Test
    void theHintsNameEachFileAndEachBoundType() throws IOException, ClassNotFoundException {
        JsonNode hints;
        try (InputStream file = NativeHintsTest.class.getResourceAsStream(
                "/META-INF/native-image/dev.vacancy/vacancy-web/reachability-metadata.json")) {
            hints = JsonMapper.shared().readTree(file);
        }

        try (Stream<Path> files = Files.list(RESOURCES.resolve("dev/vacancy/web"))) {
            assertThat(hints.get("resources")
                            .valueStream()
                            .map(each -> each.get("glob").asString()))
                    .containsExactlyInAnyOrderElementsOf(files.map(file ->
                                    RESOURCES.relativize(file).toString().replace('\\', '/'))
                            .toList());
        }
        assertThat(Class.forName(hints.at("/reflection/0/type").asString())).isEqualTo(Binder.Sample.class);
    }
}
