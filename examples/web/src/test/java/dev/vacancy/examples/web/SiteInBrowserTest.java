package dev.vacancy.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.selenium.AxeBuilder;
import dev.vacancy.site.Site;
import dev.vacancy.testing.Chromium;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.support.ui.WebDriverWait;

/** The guide as a site, opened from a folder in a real browser. It is skipped where Chromium and its driver are missing. */
class SiteInBrowserTest {
    @TempDir
    static Path site;

    private static ChromeDriver browser;

    @BeforeAll
    static void open() throws IOException {
        Chromium.require();
        Site.main(new String[] {"../..", site.toString()});
        browser = Chromium.open(true);
    }

    @AfterAll
    static void close() {
        if (browser != null) {
            browser.quit();
        }
    }

    private static void look(String page) {
        browser.get(site.resolve(page).toUri().toString());
    }

    @ParameterizedTest
    @CsvSource({
        "retention,            docs/guide/soft-delete.html, Restore",
        "maxPerTransaction,    index.html,                  Bulk runs",
        "the aud,              docs/reference/http.html,    audit",
        "where: detach orphan, docs/guide/ask.html,         Rules"
    })
    void aSectionIsFoundByItsWordsWhileTheyAreTyped(String words, String from, String title) {
        look(from);

        browser.findElement(By.id("search")).sendKeys(words);

        WebElement first = new WebDriverWait(browser, Duration.ofSeconds(10))
                .until(any -> browser.findElement(By.cssSelector("#found a")));
        assertThat(browser.findElements(By.cssSelector("#found a")))
                .extracting(WebElement::getText)
                .anyMatch(found -> found.contains(title));
        first.click();
        assertThat(browser.findElement(By.tagName("h1")).isDisplayed()).isTrue();
        assertThat(browser.findElement(By.id("found")).isDisplayed()).isFalse();
    }

    @Test
    void nothingIsFoundAndToldAsSuchAndEscapeEndsIt() {
        look("index.html");
        WebElement field = browser.findElement(By.id("search"));

        field.sendKeys("<qqzz>");

        assertThat(browser.findElement(By.id("found")).getText()).isEqualTo("Nothing is found for “<qqzz>”.");
        field.sendKeys(Keys.ESCAPE);
        assertThat(browser.findElement(By.id("found")).isDisplayed()).isFalse();
    }

    @ParameterizedTest
    @ValueSource(strings = {"light", "dark"})
    void thePagesCanBeReadByEverybody(String scheme) {
        Chromium.emulate(browser, List.of(Map.of("name", "prefers-color-scheme", "value", scheme)));
        for (String page : List.of("index.html", "docs/guide/rules.html", "docs/reference/command-line.html")) {
            look(page);

            assertThat(new AxeBuilder().analyze(browser).getViolations())
                    .as(page)
                    .isEmpty();
        }
    }
}
