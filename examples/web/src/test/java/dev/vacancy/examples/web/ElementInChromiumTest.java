package dev.vacancy.examples.web;

import dev.vacancy.testing.Chromium;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.openqa.selenium.WebDriver;
import org.openqa.selenium.chrome.ChromeDriver;

/** The element in Chromium. It is skipped where Chromium and its driver are missing. */
class ElementInChromiumTest extends ElementTests {
    private static ChromeDriver browser;

    @BeforeAll
    static void open() {
        Chromium.require();
        browser = Chromium.open(true);
    }

    @AfterAll
    static void close() {
        if (browser != null) {
            browser.quit();
        }
    }

    @Override
    WebDriver browser() {
        return browser;
    }
}
