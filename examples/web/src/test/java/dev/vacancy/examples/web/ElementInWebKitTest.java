package dev.vacancy.examples.web;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.openqa.selenium.WebDriver;

/** The element in WebKit. It is skipped where that browser, its driver or a virtual display is missing. */
class ElementInWebKitTest extends ElementTests {
    private static WebKit webKit;

    @BeforeAll
    static void open() throws Exception {
        WebKit.require();
        webKit = WebKit.open();
    }

    @AfterAll
    static void close() {
        if (webKit != null) {
            webKit.close();
        }
    }

    @Override
    WebDriver browser() {
        return webKit.driver();
    }
}
