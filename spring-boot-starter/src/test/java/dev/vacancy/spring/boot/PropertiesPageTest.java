package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** The guide lists each property that editors know, and no other. */
class PropertiesPageTest {
    private static final Path PAGE = Path.of("../docs/guide/frameworks.md");

    @Test
    void theGuideListsTheProperties() throws IOException {
        List<String> known = found(
                "\"name\": \"(vacancy\\.[a-z.-]+)\",\\s+\"type\": \"(?!dev\\.vacancy\\.spring\\.boot\\.VacancyProperties\\$(?:Limits|Web)\")",
                new String(
                        VacancyProperties.class
                                .getResourceAsStream("/META-INF/spring-configuration-metadata.json")
                                .readAllBytes(),
                        StandardCharsets.UTF_8));

        assertThat(known).contains("vacancy.rules", "vacancy.limits.lock-wait");
        assertThat(found("(?m)^\\| `(vacancy\\.[a-z.-]+)`", Files.readString(PAGE)))
                .containsExactlyInAnyOrderElementsOf(known);
    }

    private static List<String> found(String pattern, String text) {
        return Pattern.compile(pattern)
                .matcher(text)
                .results()
                .map((MatchResult result) -> result.group(1))
                .toList();
    }
}
