package dev.vacancy.examples.spring;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.testing.Chromium;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.time.Duration;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.SearchContext;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.support.ui.WebDriverWait;

/** The page in a real browser. It is skipped where Chromium and its driver are missing. */
class MarinasInBrowserTest {
    private static final Duration LONGEST = Duration.ofSeconds(20);

    private final Database database = Engine.H2.database();
    private RunningMarinas marinas;
    private ChromeDriver browser;

    @BeforeEach
    void start() {
        Chromium.require();
        marinas = RunningMarinas.on(database);
        browser = Chromium.open(true);
    }

    @AfterEach
    void stop() {
        if (browser != null) {
            browser.quit();
            marinas.close();
        }
    }

    private void signIn(String name) {
        browser.get(marinas.address());
        browser.findElement(By.name("username")).sendKeys(name);
        browser.findElement(By.name("password")).sendKeys(name);
        browser.findElement(By.cssSelector("button[type=submit]")).click();
        waitFor("main section");
    }

    private WebElement waitFor(String selector) {
        return new WebDriverWait(browser, LONGEST).until(now -> now.findElement(By.cssSelector(selector)));
    }

    private void press(String label) {
        waitFor("[aria-label='" + label + "']").click();
    }

    private SearchContext dialog() {
        return waitFor("vacancy-deletion-dialog").getShadowRoot();
    }

    /** What the dialog says, once it has heard from the server. */
    private String said(String expected) {
        return new WebDriverWait(browser, LONGEST)
                .until(now -> Optional.of(
                                dialog().findElement(By.cssSelector("dialog")).getText())
                        .filter(text -> text.contains(expected))
                        .orElse(null));
    }

    private void answer(String label) {
        dialog().findElements(By.cssSelector("button")).stream()
                .filter(button -> button.getText().equals(label))
                .findFirst()
                .orElseThrow()
                .click();
    }

    @Test
    void whoIsAskedAgreesAndTheCraftIsGone() {
        signIn("una");
        press("Remove Heron");

        assertThat(said("What goes")).contains("Delete craft 1 'Heron' and 5 records that depend on it?");
        answer("Delete");

        assertThat(said("were deleted")).contains("6 records were deleted.");
        answer("Close");
        new WebDriverWait(browser, LONGEST)
                .until(now -> !now.findElement(By.tagName("main")).getText().contains("Heron"));
        assertThat(database.rows("select id from craft order by 1")).containsExactly("2", "3", "4");
    }

    @Test
    void whatWasRemovedByMistakeComesBack() {
        signIn("una");
        press("Remove Heron");
        said("What goes");
        answer("Delete");
        said("were deleted");

        answer("Undo");

        new WebDriverWait(browser, LONGEST).until(now -> database.count("craft") == 4);
        assertThat(database.count("craft_equipment")).isEqualTo(3);
    }

    @Test
    void whatForbidsItIsShownAndNothingGoes() {
        signIn("una");
        press("Remove Otter");

        assertThat(said("isn't paid")).contains("its stay isn't paid");
        assertThat(database.count("craft")).isEqualTo(4);
    }

    @Test
    void onlyTheHeadOfficeClosesHarbours() {
        signIn("tam");
        assertThat(browser.findElements(By.cssSelector("[aria-label^=Close]"))).isEmpty();
        browser.findElement(By.cssSelector("header button")).click();
        signIn("isla");

        press("Close Drumlish");

        assertThat(said("Drumlish")).contains("Drumlish");
    }
}
