package dev.vacancy.examples.web;

import static org.assertj.core.api.Assumptions.assumeThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;

/** A real browser, where there is one. */
final class Chromium {
    private Chromium() {}

    /** Finds a program. */
    static Optional<Path> program(String... names) {
        return List.of(names).stream()
                .flatMap(
                        name -> List.of(System.getenv().getOrDefault("PATH", "").split(":", -1)).stream()
                                .map(folder -> Path.of(folder, name)))
                .filter(Files::isExecutable)
                .findFirst();
    }

    /** Skips the tests that need it where it is missing. */
    static void require() {
        assumeThat(program("chromium", "chromium-browser", "google-chrome"))
                .as("Chromium, which isn't installed here")
                .isPresent();
        assumeThat(program("chromedriver"))
                .as("chromedriver, which isn't installed here")
                .isPresent();
    }

    static ChromeDriver open(boolean scripts) {
        ChromeOptions options = new ChromeOptions();
        options.setBinary(program("chromium", "chromium-browser", "google-chrome")
                .orElseThrow()
                .toFile());
        options.addArguments("--headless=new", "--no-sandbox", "--disable-dev-shm-usage", "--window-size=1280,800");
        if (!scripts) {
            options.setExperimentalOption("prefs", Map.of("profile.managed_default_content_settings.javascript", 2));
        }
        return new ChromeDriver(
                new ChromeDriverService.Builder()
                        .usingDriverExecutable(
                                program("chromedriver").orElseThrow().toFile())
                        .usingAnyFreePort()
                        .build(),
                options);
    }

    /** Has it prefer something (Media Queries Level 5), and nothing else. */
    static void emulate(ChromeDriver browser, List<Map<String, String>> features) {
        browser.executeCdpCommand("Emulation.setEmulatedMedia", Map.of("features", features));
    }
}
