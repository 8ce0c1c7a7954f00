package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;

/** The page of failure codes says what the code says; {@code -Dvacancy.test.write=true} writes it anew. */
class FailureCodePageTest {
    private static final Path PAGE = Path.of("../docs/reference/failure-codes.md");
    private static final Path SOURCE = Path.of("src/main/java/dev/vacancy/FailureCode.java");
    private static final Pattern CODE = Pattern.compile("/\\*\\* (.*?) \\*/\\s+([A-Z_]+)[,;]");

    @Test
    void thePageHasEachCodeWithItsMeaning() throws IOException {
        StringBuilder page = new StringBuilder("""
                # Failure codes

                `failure.code()` tells programs what kind of failure it is, `failure.details()` the table, column and value. The words of a
                message may change; codes don't. Over HTTP a code stands in the `type` of the problem detail:
                `urn:vacancy:problem:unknown-table`.

                | code | meaning |
                |---|---|
                """);
        for (MatchResult code : CODE.matcher(Files.readString(SOURCE)).results().toList()) {
            page.append("| `")
                    .append(FailureCode.valueOf(code.group(2)).text())
                    .append("` | ")
                    .append(code.group(1))
                    .append(" |\n");
        }
        if (Boolean.getBoolean("vacancy.test.write")) {
            Files.writeString(PAGE, page);
        }

        assertThat(PAGE).content().isEqualTo(page.toString());
        assertThat(FailureCode.values()).allSatisfy(code -> assertThat(page).contains("| `" + code.text() + "` |"));
    }
}
