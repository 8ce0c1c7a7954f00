package dev.vacancy.testing;

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
public final class Chromium {
    private Chromium() {}

    /** Finds a program. */
    public static Optional<Path> program(String... names) {
        return List.of(names).stream()
                .flatMap(
                        name -> List.of(System.getenv().getOrDefault("PATH", "").split(":", -1)).stream()
                                .map(folder -> Path.of(folder, name)))
                .filter(Files::isExecutable)
                .findFirst();
    }

    /** Skips the tests that need it where it is missing. */
    public static void require() {
        assumeThat(program("chromium", "chromium-browser", "google-chrome"))
                .as("Chromium, which isn't installed here")
                .isPresent();
        assumeThat(program("chromedriver"))
                .as("chromedriver, which isn't installed here")
                .isPresent();
    }

    /** Opens one without a window, with or without scripts. */
    public static ChromeDriver open(boolean scripts) {
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
    public static void emulate(ChromeDriver browser, List<Map<String, String>> features) {
        browser.executeCdpCommand("Emulation.setEmulatedMedia", Map.of("features", features));
    }
}
