package dev.vacancy.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.results.Results;
import com.deque.html.axecore.selenium.AxeBuilder;
import dev.vacancy.testing.Chromium;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.SearchContext;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.WindowType;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.support.ui.Select;
import org.openqa.selenium.support.ui.WebDriverWait;

/** The pages in a real browser, with scripts and without. It is skipped where Chromium and its driver are missing. */
class BrowserTest {
    private static final Duration LONGEST = Duration.ofSeconds(20);
    private static final Duration TURN = Duration.ofMillis(50);

    private DemoSite site;
    private ChromeDriver browser;

    private static ChromeDriver usual;

    @BeforeAll
    static void openTheBrowser() {
        Chromium.require();
        usual = Chromium.open(true);
    }

    @AfterAll
    static void closeTheBrowser() {
        if (usual != null) {
            usual.quit();
        }
    }

    @BeforeEach
    void start() throws Exception {
        site = DemoSite.start();
        browser = usual;
    }

    /** The next test finds one window, and nobody signed in. */
    @AfterEach
    void stop() {
        if (browser != usual) {
            browser.quit();
        }
        List<String> windows = List.copyOf(usual.getWindowHandles());
        Chromium.emulate(usual, List.of());
        windows.subList(1, windows.size())
                .forEach(window -> usual.switchTo().window(window).close());
        usual.switchTo().window(windows.get(0)).manage().deleteAllCookies();
        usual.get("about:blank");
        site.stop();
    }

    private void look(String path) {
        browser.get(site.address() + path);
    }

    private String text() {
        return browser.findElement(By.tagName("body")).getText();
    }

    private <T> T await(java.util.function.Function<ChromeDriver, T> condition) {
        return new WebDriverWait(browser, LONGEST, TURN)
                .ignoring(org.openqa.selenium.WebDriverException.class)
                .until(any -> condition.apply(browser));
    }

    private void press(String text) {
        browser.findElement(By.xpath("//main//button[normalize-space()='" + text + "']"))
                .click();
    }

    /** What the dialog stands in, at the end of the page. */
    private SearchContext opened() {
        return browser.findElement(By.tagName("vacancy-deletion-dialog")).getShadowRoot();
    }

    private WebElement dialog() {
        return await(any -> opened().findElement(By.cssSelector("dialog[open]")));
    }

    private WebElement button(String text) {
        return await(any -> dialog().findElements(By.tagName("button")).stream()
                .filter(button -> button.getText().equals(text))
                .findFirst()
                .orElse(null));
    }

    /** Clicks a button of the dialog, whenever it is there: what is shown may be written anew between the look and the click. */
    private void answer(String text) {
        await(any -> {
            button(text).click();
            return true;
        });
    }

    private void ask(int hive) {
        browser.findElement(By.cssSelector("vacancy-deletion[key='" + hive + "'] a"))
                .click();
    }

    @Test
    void theSafeButtonHasTheFocusAndEscapeIsNo() throws Exception {
        int hive = site.freeHive();
        look("");
        ask(hive);
        WebElement keep = button("Keep");

        assertThat(dialog().getText())
                .contains("Delete hive " + hive)
                .contains("What goes")
                .containsPattern("about \\d+ reading");
        assertThat(
                        browser.executeScript(
                                "return document.querySelector('vacancy-deletion-dialog').shadowRoot.activeElement.textContent"))
                .isEqualTo("Keep");
        keep.sendKeys(Keys.ENTER);
        await(any -> browser.findElements(By.tagName("vacancy-deletion-dialog")).isEmpty());
        ask(hive);
        button("Keep").sendKeys(Keys.ESCAPE);
        await(any -> browser.findElements(By.tagName("vacancy-deletion-dialog")).isEmpty());
        assertThat(site.number("select count(*) from hive")).isEqualTo(40);
    }

    @Test
    void aHiveGoesComesBackAndTheListIsRefreshed() throws Exception {
        int hive = site.freeHive();
        look("");
        ask(hive);
        answer("Delete");
        button("Undo");
        long gone = site.number("select count(*) from hive");
        String row = browser.findElement(By.cssSelector("tr.gone")).getText();
        answer("Undo");
        await(any -> dialog().getText().contains("It is back as it was."));
        long back = site.number("select count(*) from hive");
        answer("Close");
        await(any -> browser.findElements(By.tagName("vacancy-deletion-dialog")).isEmpty());
        ask(hive);
        answer("Delete");
        button("Undo");
        answer("Close");
        await(any -> browser.findElements(By.cssSelector("vacancy-deletion[key='" + hive + "']"))
                .isEmpty());

        assertThat(gone).isEqualTo(39);
        assertThat(row).startsWith(hive + " ");
        assertThat(back).isEqualTo(40);
        assertThat(site.number("select count(*) from hive")).isEqualTo(39);
    }

    /** Where nothing is asked, whoever closes the dialog before the plan is there has said no. */
    @Test
    void whoeverClosesTheDialogBeforeThePlanIsThereDeletesNothing() throws Exception {
        int hive = site.freeHive();
        look("");
        browser.executeScript("""
                const answer = {question: 'Delete?', due: false, typed: null, counts: {hive: 1}, marked: [], drifting: [], survivors: [],
                  warnings: [], blockers: [], holds: [], recorded: true};
                window.asked = [];
                const real = window.fetch;
                window.fetch = (address, options) => {
                  if (address.endsWith("/words")) {
                    return real(address, options);
                  }
                  window.asked.push(options.method);
                  return new Promise(resolve => window.answer = () => {
                    window.answered = true;
                    resolve(new Response(JSON.stringify(answer)));
                  }); };
                """);
        ask(hive);
        await(any -> (Boolean) browser.executeScript("return window.answer !== undefined"));
        button("Close").sendKeys(Keys.ESCAPE);
        await(any -> browser.findElements(By.tagName("vacancy-deletion-dialog")).isEmpty());
        browser.executeScript("window.answer()");
        await(any -> (Boolean) browser.executeScript("return window.answered === true"));

        assertThat(browser.findElements(By.tagName("vacancy-deletion-dialog"))).isEmpty();
        assertThat(browser.executeScript("return window.asked")).isEqualTo(List.of("GET"));
    }

    @Test
    void whatChangedMeanwhileIsToldAndAskedAgain() throws Exception {
        int hive = site.freeHive();
        look("");
        ask(hive);
        button("Delete");
        site.execute("insert into inspection (inspection_id, hive_id, keeper_id, inspected_on, note) select 99999, "
                + hive + ", keeper_id, inspected_on, note from inspection limit 1");
        answer("Delete");
        await(any -> dialog().getText().contains("Something has changed since you looked."));

        assertThat(dialog().getText()).contains("1 more of inspection");
        assertThat(site.number("select count(*) from hive")).isEqualTo(40);
        answer("Delete");
        button("Undo");
        assertThat(site.number("select count(*) from hive")).isEqualTo(39);
    }

    @Test
    void whatAnotherTabDeletedIsToldAndAskedAgain() throws Exception {
        look("");
        List<WebElement> boxes = browser.findElements(By.cssSelector("input[type=checkbox]"));
        boxes.get(1).click();
        boxes.get(3).click();
        String gone = boxes.get(3).getAttribute("value");
        press("Delete the picked ones…");
        await(any -> text().contains("Delete 2 of the 40 records of hive"));
        String first = browser.getWindowHandle();
        browser.switchTo().newWindow(WindowType.TAB);
        look("deletion?table=hive&key=" + gone);
        press("Delete");
        await(any -> text().contains("To the list"));
        browser.switchTo().window(first);
        press("Delete");
        await(any -> text().contains("1 fewer of hive"));
        long left = site.number("select count(*) from hive");
        press("Delete");
        await(any -> text().contains("To the list"));

        assertThat(left).isEqualTo(39);
        assertThat(site.number("select count(*) from hive")).isEqualTo(38);
    }

    @Test
    void whatAnotherTabDeletedIsNotDeletedTwice() throws Exception {
        int hive = site.freeHive();
        look("");
        ask(hive);
        WebElement yes = button("Delete");
        String first = browser.getWindowHandle();
        browser.switchTo().newWindow(WindowType.TAB);
        look("");
        ask(hive);
        answer("Delete");
        button("Undo");
        browser.switchTo().window(first);
        yes.click();
        await(any -> dialog().getText().contains("deleted."));

        assertThat(site.number("select count(*) from vacancy_trail_run where kind = 'deletion'"))
                .isEqualTo(1);
    }

    /** It needn't be told which one that is: something between may take header fields away. */
    @Test
    void theDialogSpeaksTheLanguageOfThePage() throws Exception {
        int hive = site.freeHive();
        look("");
        browser.executeScript("""
                document.documentElement.lang = 'de';
                const real = window.fetch;
                window.fetch = async (address, options) => {
                  const response = await real(address, options);
                  return address.endsWith('/words') ? new Response(await response.text()) : response; };
                """);
        ask(hive);
        button("Behalten");
        assertThat(dialog().getText()).contains("Was geht").contains("löschen?").containsPattern("etwa \\d+ reading");
        answer("Löschen");
        button("Rückgängig");

        assertThat(dialog().getText()).matches("(?s)\\d+ Datensätze wurden gelöscht\\..*");
    }

    @Test
    void withoutWordsTheDialogLeavesTheClickToThePage() throws Exception {
        int hive = site.freeHive();
        look("");
        browser.executeScript("window.fetch = () => Promise.resolve(new Response('', {status: 503}))");
        ask(hive);
        await(any -> text().contains("What goes with it"));

        assertThat(browser.getCurrentUrl()).contains("deletion?").contains("key=" + hive);
    }

    /** The moment stands in the page in UTC; whoever looks reads it by the clock on the wall. */
    @Test
    void pointsInTimeAreThoseOfTheVisitorsZone() throws Exception {
        int hive = site.freeHive();
        browser.executeCdpCommand("Emulation.setTimezoneOverride", Map.of("timezoneId", "Pacific/Auckland"));
        try {
            look("");
            ask(hive);
            answer("Delete");
            button("Undo");
            look("history");
            String moment = browser.findElement(By.tagName("time")).getDomAttribute("datetime");
            String shown = browser.findElement(By.tagName("time")).getText();

            assertThat(shown)
                    .isEqualTo(DateTimeFormatter.ofPattern("MMM d, uuuu, h:mm a", Locale.ENGLISH)
                            .format(Instant.parse(moment).atZone(ZoneId.of("Pacific/Auckland"))))
                    .doesNotContain("UTC");
        } finally {
            browser.executeCdpCommand("Emulation.setTimezoneOverride", Map.of("timezoneId", ""));
        }
    }

    @Test
    void whatIsForbiddenSaysWhy() throws Exception {
        int hive = (int) site.number("select b.hive_id from batch_hive b join honey_batch h on h.batch_id = b.batch_id"
                + " where h.sold_on is not null limit 1");
        site.execute("update hive set set_up_on = date '2030-01-01' where hive_id = " + hive);
        look("");
        ask(hive);
        await(any -> dialog().getText().contains("This can’t be deleted as it is"));

        assertThat(dialog().getText()).contains("a sold batch must stay traceable");
        assertThat(dialog().findElements(By.tagName("button"))).hasSize(1);
    }

    @Test
    void markupInARecordIsTextInTheDialog() throws Exception {
        int hive = site.freeHive();
        site.execute("update hive set name = '<img src=x onerror=alert(1)>' where hive_id = " + hive);
        look("");
        ask(hive);
        button("Keep");

        assertThat(dialog().getText()).contains("<img src=x onerror=");
        assertThat(dialog().findElements(By.tagName("img"))).isEmpty();
    }

    @Test
    void aDoubleClickAndTheBackButtonDeleteOnce() throws Exception {
        int hive = site.freeHive();
        look("deletion?table=hive&key=" + hive);
        new Actions(browser)
                .doubleClick(browser.findElement(By.xpath("//main//button[normalize-space()='Delete']")))
                .perform();
        await(any -> text().contains("To the list"));
        browser.navigate().back();
        await(any -> text().contains("There is no such record."));

        assertThat(site.number("select count(*) from hive")).isEqualTo(39);
        assertThat(site.number("select count(*) from vacancy_trail_run where kind = 'deletion'"))
                .isEqualTo(1);
    }

    @Test
    void withoutScriptsEverythingIsThere() throws Exception {
        int hive = site.freeHive();
        browser = Chromium.open(false);
        look("");
        browser.findElement(By.cssSelector("vacancy-deletion[key='" + hive + "'] a"))
                .click();
        await(any -> text().contains("What goes with it"));
        press("Delete");
        await(any -> text().contains("To the list"));
        long gone = site.number("select count(*) from hive");
        browser.findElement(By.linkText("Undo…")).click();
        press("Bring back");
        await(any -> text().contains("records are back as they were."));

        assertThat(gone).isEqualTo(39);
        assertThat(site.number("select count(*) from hive")).isEqualTo(40);
    }

    @Test
    void whatWasPickedIsStillPickedOnTheWayBack() {
        look("");
        List<WebElement> boxes = browser.findElements(By.cssSelector("input[type=checkbox]"));
        boxes.get(1).click();
        boxes.get(3).click();
        press("Delete the picked ones…");
        await(any -> text().contains("Delete 2 of the 40 records of hive") || text().contains("can't be deleted"));
        browser.findElement(By.linkText("Back")).click();
        await(any -> text().contains("Hives, the newest first"));

        assertThat(browser.findElements(By.cssSelector("input[type=checkbox]")))
                .filteredOn(WebElement::isSelected)
                .hasSize(2);
    }

    @Test
    void aKeeperLeavesIsFoundAmongTheDeletedAndComesBack() throws Exception {
        look("deletion?table=keeper&key=3");
        new Select(browser.findElement(By.cssSelector("main select"))).selectByIndex(0);
        press("Go on");
        await(any -> text().contains("Why?"));
        browser.findElement(By.name("reason")).sendKeys("moved away");
        press("Delete");
        await(any -> text().contains("1 of keeper (marked)"));
        look("deleted");
        assertThat(text()).contains("moved away");
        browser.findElement(By.linkText("Restore…")).click();
        press("Bring back");
        await(any -> text().contains("records are back as they were."));

        assertThat(site.number("select count(*) from keeper where left_at is not null and keeper_id = 3"))
                .isZero();
    }

    @Test
    void theListIsPagedAndTheVisitorIsWhoeverTheyChoose() throws Exception {
        look("");
        String newest = browser.findElement(By.cssSelector("tbody tr")).getText();
        browser.findElement(By.linkText("older")).click();
        await(any -> browser.findElements(By.linkText("newer")).size() == 1);
        String older = browser.findElement(By.cssSelector("tbody tr")).getText();
        new Select(browser.findElement(By.name("actor"))).selectByVisibleText("Hesper Quill");
        browser.findElement(By.xpath("//header//button")).click();
        await(any -> browser.findElements(By.linkText("newer")).isEmpty());
        int hive = site.freeHive();
        ask(hive);
        answer("Delete");
        button("Undo");
        look("history");

        assertThat(older).isNotEqualTo(newest);
        assertThat(browser.findElement(By.cssSelector("tbody tr")).getText()).contains("hesper.quill@larkmoor.example");
    }

    @Test
    void aBulkRunIsPausedGoneOnWithAndStopped() throws Exception {
        look("deletion?table=reading&before=2026-09-01");
        browser.findElements(By.name("typed"))
                .forEach(input -> input.sendKeys(browser.findElement(By.xpath("//label[input[@name='typed']]"))
                        .getText()
                        .replaceAll("[^0-9]", "")));
        press("Delete");
        await(any -> text().contains("Deleting in chunks: running"));
        press("Pause");
        await(any -> text().contains("Deleting in chunks: paused"));
        long paused = site.number("select count(*) from reading");
        press("Go on");
        await(any -> text().contains("Deleting in chunks: running"));
        press("Stop for good");
        await(any -> text().contains("Deleting in chunks: cancelled"));

        assertThat(paused).isBetween(1L, 20_000L);
        assertThat(browser.findElements(By.xpath("//main//button"))).isEmpty();
        assertThat(site.number("select count(*) from reading")).isPositive();
    }

    @Test
    void aDeletedKeeperGoesForGoodAndTheHistoryBringsThemBack() throws Exception {
        look("deletion?table=keeper&key=4&keeper=7");
        press("Delete");
        await(any -> text().contains("1 of keeper (marked)"));
        look("deleted");
        browser.findElements(By.linkText("Delete for good…")).get(0).click();
        await(any -> text().contains("for good?"));
        press("Delete");
        await(any -> text().contains("To the list"));
        long gone = site.number("select count(*) from keeper where keeper_id = 4");
        look("history");
        browser.findElements(By.linkText("Restore…")).get(0).click();
        press("Bring back");
        await(any -> text().contains("records are back as they were."));

        assertThat(gone).isZero();
        assertThat(site.number("select count(*) from keeper where keeper_id = 4 and left_at is not null"))
                .isEqualTo(1);
    }

    @Test
    void aBulkRunIsWatchedToItsEnd() throws Exception {
        look("readings");
        browser.executeScript("document.querySelector('[name=before]').value = '2026-06-01'");
        press("Delete them…");
        await(any -> text().contains("in chunks that are committed one by one?"));
        browser.findElements(By.name("typed"))
                .forEach(input -> input.sendKeys(browser.findElement(By.xpath("//label[input[@name='typed']]"))
                        .getText()
                        .replaceAll("[^0-9]", "")));
        press("Delete");
        await(any -> text().contains("Deleting in chunks"));
        await(any -> text().contains("Deleting in chunks: done"));

        assertThat(browser.findElement(By.tagName("progress")).getDomProperty("value"))
                .isEqualTo(browser.findElement(By.tagName("progress")).getDomProperty("max"));
        assertThat(site.number("select count(*) from reading where taken_at < timestamp '2026-06-01 00:00:00'"))
                .isZero();
        assertThat(site.number("select count(*) from reading")).isPositive();
    }

    @ParameterizedTest
    @ValueSource(strings = {"prefers-color-scheme: light", "prefers-color-scheme: dark", "forced-colors: active"})
    void allPagesAreAccessible(String colours) throws Exception {
        int hive = site.freeHive();
        String[] feature = colours.split(": ", 2);
        Chromium.emulate(browser, List.of(Map.of("name", feature[0], "value", feature[1])));
        look("deletion?table=keeper&key=3&keeper=7");
        press("Delete");
        await(any -> text().contains("To the list"));
        assertAccessible();
        for (String path : List.of(
                "",
                "readings",
                "deleted",
                "history",
                "search?q=fellside",
                "deletion?table=hive&key=" + hive,
                "deletion?table=hive&key=4",
                "deletion?table=keeper&key=4",
                "deletion?table=reading&before=2026-06-01",
                "nothing")) {
            look(path);
            assertAccessible();
        }
        look("");
        ask(hive);
        button("Keep");
        assertAccessible();
    }

    private void assertAccessible() {
        Results results = new AxeBuilder().analyze(browser);
        assertThat(results.getViolations())
                .as(browser.getCurrentUrl() + ": " + results.getViolations())
                .isEmpty();
    }
}
