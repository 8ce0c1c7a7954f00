package dev.vacancy.site;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The site has every page of the guide, and each of its links leads somewhere. */
class SiteTest {
    private static final Path REPOSITORY = Path.of("..").toAbsolutePath().normalize();
    private static final Pattern LEADS = Pattern.compile("(?:href|src)=\"([^\"]*)\"");

    @TempDir
    static Path site;

    @BeforeAll
    static void make() throws IOException {
        Site.make(REPOSITORY, site);
    }

    @Test
    void everyPageOfTheGuideAndItsReferenceIsThere() throws IOException {
        for (String folder : List.of("docs/guide", "docs/reference")) {
            try (Stream<Path> written = Files.list(REPOSITORY.resolve(folder))) {
                assertThat(written.filter(path -> path.toString().endsWith(".md")))
                        .isNotEmpty()
                        .allSatisfy(path -> assertThat(site.resolve(
                                        Links.page(REPOSITORY.relativize(path).toString())))
                                .exists());
            }
        }
        assertThat(site.resolve("index.html")).content().contains("<h1").contains("docs/guide/ask.html");
    }

    @Test
    void eachLinkLeadsToAFileAndToAHeadingOfIt() throws IOException {
        List<String> lost = new ArrayList<>();
        int looked = 0;
        for (Path page : pages()) {
            Matcher link = LEADS.matcher(Files.readString(page));
            while (link.find()) {
                String target = link.group(1);
                if (!target.matches("[a-z]+:.*") && !target.equals("#")) {
                    looked++;
                    if (!leadsSomewhere(page, target)) {
                        lost.add(site.relativize(page) + ": " + target);
                    }
                }
            }
        }
        assertThat(lost).isEmpty();
        assertThat(looked).isGreaterThan(500);
    }

    private static boolean leadsSomewhere(Path page, String target) throws IOException {
        String[] parts = target.split("#", 2);
        Path file = parts[0].isEmpty() ? page : page.resolveSibling(parts[0]).normalize();
        return Files.isRegularFile(file)
                && file.startsWith(site)
                && (parts.length == 1 || Files.readString(file).contains("id=\"" + parts[1] + "\""));
    }

    @Test
    void everySectionCanBeFound() throws IOException {
        String sections = Files.readString(site.resolve("search-data.js"));

        Matcher page = Pattern.compile("\"page\":\"([^\"]*)\"").matcher(sections);
        int found = 0;
        while (page.find()) {
            found++;
            assertThat(leadsSomewhere(site.resolve("index.html"), page.group(1)))
                    .as(page.group(1))
                    .isTrue();
        }
        assertThat(found).isGreaterThan(100);
        assertThat(site.resolve("lunr.js")).content().contains("lunr");
    }

    private static List<Path> pages() throws IOException {
        try (Stream<Path> files = Files.walk(site)) {
            return files.filter(file -> file.toString().endsWith(".html")).toList();
        }
    }
}
