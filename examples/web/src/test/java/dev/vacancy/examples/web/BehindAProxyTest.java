package dev.vacancy.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.testing.Chromium;
import java.time.Duration;
import java.util.List;
import java.util.function.Function;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.SearchContext;
import org.openqa.selenium.WebDriverException;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.support.ui.WebDriverWait;

/** The dialog behind a proxy that weakens entity tags. */
class BehindAProxyTest {
    private static final Duration LONGEST = Duration.ofSeconds(20);

    private static ChromeDriver browser;

    private DemoSite site;
    private WeakeningProxy proxy;

    @BeforeAll
    static void openTheBrowser() {
        Chromium.require();
        browser = Chromium.open(true);
    }

    @AfterAll
    static void closeTheBrowser() {
        if (browser != null) {
            browser.quit();
        }
    }

    @BeforeEach
    void start() throws Exception {
        site = DemoSite.start();
        proxy = new WeakeningProxy(site.address());
    }

    @AfterEach
    void stop() {
        proxy.close();
        site.stop();
    }

    private static <T> T await(Function<ChromeDriver, T> condition) {
        return new WebDriverWait(browser, LONGEST)
                .ignoring(WebDriverException.class)
                .until(any -> condition.apply(browser));
    }

    private static SearchContext dialog() {
        return browser.findElement(By.tagName("vacancy-deletion-dialog"))
                .getShadowRoot()
                .findElement(By.cssSelector("dialog[open]"));
    }

    private static void press(String text) {
        await(any -> dialog().findElements(By.tagName("button")).stream()
                        .filter(button -> button.getText().equals(text))
                        .findFirst()
                        .orElse(null))
                .click();
    }

    @Test
    void aHiveGoesAtTheFirstClickAndComesBack() throws Exception {
        int hive = site.freeHive();
        browser.get(proxy.address());

        browser.findElement(By.cssSelector("vacancy-deletion[key='" + hive + "'] a"))
                .click();
        press("Delete");
        await(any -> dialog().findElements(By.tagName("button")).stream()
                .anyMatch(button -> button.getText().equals("Undo")));
        long gone = site.number("select count(*) from hive");
        press("Undo");
        await(any -> dialog().findElements(By.cssSelector("*")).stream()
                .anyMatch(part -> part.getText().contains("It is back as it was.")));

        List<String> deletions = proxy.requests().stream()
                .filter(request -> request.startsWith("DELETE "))
                .toList();
        assertThat(gone).isEqualTo(39);
        assertThat(site.number("select count(*) from hive")).isEqualTo(40);
        assertThat(deletions).hasSize(1);
        assertThat(proxy.requests().stream().filter(request -> request.contains("/api/")))
                .hasSizeLessThan(10);
    }
}
