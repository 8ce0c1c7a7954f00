package dev.vacancy.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.selenium.AxeBuilder;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Function;
import org.assertj.core.api.InstanceOfAssertFactories;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.JavascriptExecutor;
import org.openqa.selenium.Keys;
import org.openqa.selenium.SearchContext;
import org.openqa.selenium.WebDriver;
import org.openqa.selenium.WebDriverException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.WebDriverWait;

/** The element in pages of all kinds; each engine of a browser has a class of its own. */
abstract class ElementTests {
    private static final Duration LONGEST = Duration.ofSeconds(20);
    private static final Duration TURN = Duration.ofMillis(50);

    private ElementSite site;

    abstract WebDriver browser();

    @BeforeEach
    void start() throws Exception {
        site = ElementSite.start();
    }

    @AfterEach
    void stop() throws Exception {
        browser().get("about:blank");
        site.stop();
    }

    private void look(String markup) {
        browser().get(site.page(markup));
        await(any -> script("return window.ready"));
    }

    private Object script(String script, Object... arguments) {
        return ((JavascriptExecutor) browser()).executeScript(script, arguments);
    }

    private <T> T await(Function<WebDriver, T> condition) {
        return new WebDriverWait(browser(), LONGEST, TURN)
                .ignoring(WebDriverException.class)
                .until(any -> condition.apply(browser()));
    }

    private SearchContext dialog() {
        return browser().findElement(By.tagName("vacancy-deletion-dialog")).getShadowRoot();
    }

    private String text() {
        return dialog().findElement(By.cssSelector("dialog[open]")).getText();
    }

    private void awaitText(String text) {
        AtomicReference<String> seen = new AtomicReference<>("no dialog");
        new WebDriverWait(browser(), LONGEST, TURN)
                .ignoring(WebDriverException.class)
                .withMessage(() -> "'" + text + "' in: " + seen)
                .until(any -> {
                    seen.set(text());
                    return seen.get().contains(text);
                });
    }

    private WebElement button(String text) {
        return await(any -> dialog().findElements(By.cssSelector("button")).stream()
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

    private WebElement field(int number) {
        return await(any -> dialog().findElements(By.cssSelector("input, textarea")).stream()
                .skip(number)
                .findFirst()
                .orElse(null));
    }

    private void awaitClosed() {
        await(any ->
                browser().findElements(By.tagName("vacancy-deletion-dialog")).isEmpty());
    }

    private void click(String selector) {
        browser().findElement(By.cssSelector(selector)).click();
    }

    private Object told() {
        return script("return window.told");
    }

    @Test
    void whatIsTypedIsTakenLiterallyAndEnterIsYes() throws Exception {
        look("<vacancy-deletion api='/api' table='queen' key='1'><button>Delete…</button></vacancy-deletion>");
        click("vacancy-deletion button");
        awaitText("a $& b $1");

        assertThat(text()).contains("Type a $& b $1 to do so");
        field(0).sendKeys("a $& b", Keys.ENTER);
        assertThat(field(0).getDomAttribute("aria-invalid")).isEqualTo("true");
        assertThat(site.value("select count(*) from queen")).isEqualTo("5");
        field(0).sendKeys(" $1", Keys.ENTER);
        awaitText("1 record was deleted.");
        assertThat(site.value("select count(*) from queen")).isEqualTo("4");
        answer("Close");
        awaitClosed();
        assertThat(told()).isEqualTo(List.of("deleted", "settled"));
    }

    @Test
    void whyIsAskedAndWrittenDown() throws Exception {
        look("<vacancy-deletion api='/api' table='jar' keys='[[\"x, y\", 1]]' reason='required'>"
                + "<button>Delete…</button></vacancy-deletion>");
        click("vacancy-deletion button");
        answer("Delete");

        assertThat(field(0).getDomAttribute("aria-invalid")).isEqualTo("true");
        field(0).sendKeys("zerbrochen, 100 %");
        answer("Delete");
        awaitText("1 record was deleted.");
        assertThat(site.value("select reason from vacancy_trail_run where kind = 'deletion'"))
                .isEqualTo("zerbrochen, 100 %");
        assertThat(site.value("select a from jar where b = 1")).isEmpty();
    }

    @Test
    void severalGoTogetherAndTheMannerIsAsTheAttributesSay() throws Exception {
        look(
                "<vacancy-deletion id='two' api='/api' table='jar' keys='[[\"w\", 3], [\"[z]\", 2]]'></vacancy-deletion>"
                        + "<vacancy-deletion id='hard' api='/api' table='keeper' key='1' hard reassign='inspection.keeper_id=2'>"
                        + "</vacancy-deletion>"
                        + "<vacancy-deletion id='many' api='/api' table='queen' where='queen_id < 4' expect='2'></vacancy-deletion>");
        script("window.came = document.getElementById('two').open()");
        awaitText("2 jar");
        answer("Delete");
        awaitText("2 records were deleted.");
        answer("Close");
        awaitClosed();
        script("document.getElementById('hard').open()");
        awaitText("1 keeper");
        assertThat(text()).doesNotContain("marked");
        answer("Delete");
        awaitText("1 record was deleted.");
        answer("Close");
        awaitClosed();
        script("document.getElementById('many').open()");
        awaitText("3");
        answer("Close");
        awaitClosed();

        assertThat(site.value("select count(*) from jar")).isEqualTo("1");
        assertThat(site.value("select count(*) from keeper where keeper_id = 1"))
                .isEqualTo("0");
        assertThat(site.value("select distinct keeper_id from inspection")).isEqualTo("2");
        assertThat(site.value("select count(*) from queen")).isEqualTo("5");
        assertThat(told()).isEqualTo(List.of("deleted", "settled", "deleted", "settled", "refused"));
    }

    @Test
    void whoeverThinksBetterOfItIsTold() {
        look("<vacancy-deletion api='/api' table='queen' key='2'><button>Delete…</button></vacancy-deletion>");
        script(
                "window.came = 'nothing yet'; document.querySelector('vacancy-deletion').open().then(what => window.came = what)");
        button("Keep").sendKeys(Keys.ESCAPE);
        awaitClosed();

        await(any -> (Boolean) script("return window.came === null"));
        assertThat(told()).isEqualTo(List.of("cancelled"));
    }

    /** Without the token nobody is known; the function that gives it is asked for each request. */
    @Test
    void headerFieldsComeFromAFunctionOfThePage() {
        look("<vacancy-deletion api='/api' table='queen' key='2'><button>Delete…</button></vacancy-deletion>");
        script("document.querySelector('vacancy-deletion').headers = () => ({})");
        click("vacancy-deletion button");
        awaitText("Sign in");
        answer("Close");
        awaitClosed();
        script("document.querySelector('vacancy-deletion').headers = null");
        click("vacancy-deletion button");
        awaitText("Bryony");

        assertThat(script("return window.refused.status")).isEqualTo(401L);
    }

    /** The language stands outside the shadow root, and what is clicked is an icon. */
    @Test
    void insideAShadowRootItSpeaksTheLanguageAroundIt() throws Exception {
        look("<div id='host' lang='de'></div>");
        script("""
                const root = document.getElementById('host').attachShadow({mode: 'open'});
                root.innerHTML = `<vacancy-deletion api="/api" table="queen" key="2"><button aria-label="weg">
                  <svg width="40" height="40"><circle cx="20" cy="20" r="18"></circle></svg></button></vacancy-deletion>`;
                """);
        browser()
                .findElement(By.id("host"))
                .getShadowRoot()
                .findElement(By.cssSelector("circle"))
                .click();
        button("Behalten");

        assertThat(dialog().findElement(By.cssSelector("dialog")).getDomAttribute("lang"))
                .isEqualTo("de");
        field(0).sendKeys("Bryony", Keys.ENTER);
        awaitText("1 Datensatz wurde gelöscht.");
        assertThat(told()).isEqualTo(List.of("deleted"));
        assertThat(site.value("select count(*) from queen")).isEqualTo("4");
    }

    /** The row goes at once, the dialog stays, and what follows is still heard by the page. */
    @Test
    void theDialogOutlivesItsRow() throws Exception {
        look("<table><tbody><tr><td>Bryony</td><td><vacancy-deletion api='/api' table='queen' key='2'>"
                + "<button>Delete…</button></vacancy-deletion></td></tr></tbody></table>");
        script("document.addEventListener('deleted', event => event.target.closest('tr').remove())");
        click("vacancy-deletion button");
        field(0).sendKeys("Bryony", Keys.ENTER);
        answer("Undo");
        awaitText("It is back as it was.");
        answer("Close");
        awaitClosed();

        assertThat(browser().findElements(By.tagName("tr"))).isEmpty();
        assertThat(told()).isEqualTo(List.of("deleted", "restored", "settled"));
        assertThat(site.value("select count(*) from queen")).isEqualTo("5");
    }

    @Test
    void aMenuMayCloseBehindIt() {
        look(
                "<button id='menu' popovertarget='items'>Menu</button><div id='items' popover>"
                        + "<vacancy-deletion api='/api' table='queen' key='2'><button>Delete…</button></vacancy-deletion></div>");
        script(
                "document.getElementById('items').addEventListener('click', event => event.currentTarget.hidePopover())");
        click("#menu");
        click("#items button");
        awaitText("Bryony");

        assertThat(browser().findElement(By.id("items")).isDisplayed()).isFalse();
        assertThat(button("Keep").isDisplayed()).isTrue();
    }

    @Test
    void aHundredOfThemAskForTheirWordsOnce() {
        look("<vacancy-deletion api='/api' table='queen' key='2'><button>Delete…</button></vacancy-deletion>"
                .repeat(100));
        for (int i = 0; i < 3; i++) {
            browser()
                    .findElements(By.cssSelector("vacancy-deletion button"))
                    .get(i * 40)
                    .click();
            answer("Keep");
            awaitClosed();
        }

        assertThat(site.requests()).filteredOn("GET /api/words"::equals).hasSize(1);
        assertThat(site.requests())
                .filteredOn(request -> request.endsWith("/deletion"))
                .hasSize(3);
    }

    /** A server that says each time that something has changed, and not what: the person is asked, and nothing goes round. */
    @Test
    void nothingGoesRoundInACircle() {
        look("<vacancy-deletion api='/api' table='keeper' key='3'><button>Delete…</button></vacancy-deletion>");
        script("""
                const real = window.fetch;
                window.asked = 0;
                window.fetch = async (address, options) => {
                  window.asked++;
                  if (options.method === "DELETE") {
                    return new Response("{}", {status: 412});
                  }
                  const response = await real(address, options);
                  return String(address).endsWith("/words") ? response
                    : new Response(JSON.stringify({...await response.json(), due: false})); };
                """);
        click("vacancy-deletion button");
        awaitText("That didn’t work.");

        assertThat(button("Keep").isDisplayed()).isTrue();
        assertThat(script("return window.asked")).isEqualTo(4L);
    }

    /** Where there are no words the click is the page's again, once; a later one asks again. */
    @Test
    void withoutWordsEachClickIsThePagesOnce() {
        look("<vacancy-deletion api='/nowhere' table='queen' key='2'><a href='#gone'><svg width='40' height='40'>"
                + "<circle cx='20' cy='20' r='18'></circle></svg></a></vacancy-deletion>");
        script("window.clicks = 0; document.querySelector('a').addEventListener('click', () => window.clicks++)");
        click("circle");
        await(any -> browser().getCurrentUrl().endsWith("#gone"));
        script("location.hash = ''");
        click("circle");
        await(any -> browser().getCurrentUrl().endsWith("#gone"));

        assertThat(script("return window.clicks")).isEqualTo(4L);
        assertThat(browser().findElements(By.tagName("vacancy-deletion-dialog")))
                .isEmpty();
    }

    @Test
    void aLargeDeletionTellsHowFarItIs() throws Exception {
        look(
                "<vacancy-deletion api='/api' table='reading' where='weight = 7'><button>Delete…</button></vacancy-deletion>");
        click("vacancy-deletion button");
        field(0).sendKeys("600", Keys.ENTER);
        awaitText("600 records were deleted.");
        answer("Close");
        awaitClosed();

        assertThat(told()).isEqualTo(List.of("begun", "deleted", "settled"));
        assertThat(script("return window.deleted.state")).isEqualTo("done");
        assertThat(site.value("select count(*) from reading")).isEqualTo("0");
    }

    /** One asks, a colleague looks at the same and agrees, and the first one deletes. */
    @Test
    void aColleagueAgrees() throws Exception {
        look("<vacancy-deletion api='/api' table='apiary' key='1'><button>Delete…</button></vacancy-deletion>");
        click("vacancy-deletion button");
        answer("Delete");
        awaitText("A colleague has to agree as well");
        String approval = field(0).getDomProperty("value");
        field(1).sendKeys(approval);
        answer("Delete");
        awaitText("colleague");
        answer("Close");
        awaitClosed();
        script("window.user = 'tam'; document.querySelector('vacancy-deletion').agree(arguments[0])", approval);
        awaitText("Fellside");
        answer("Agree");
        awaitText("Give this back");
        String both = field(0).getDomProperty("value");
        answer("Close");
        awaitClosed();
        script("window.user = 'odile'; document.querySelector('vacancy-deletion').approval = arguments[0]", both);
        long before = Long.parseLong(site.value("select count(*) from apiary"));
        click("vacancy-deletion button");
        answer("Delete");
        awaitText("1 record was deleted.");

        assertThat(before).isEqualTo(1);
        assertThat(both).isNotEqualTo(approval);
        assertThat(site.value("select count(*) from apiary")).isEqualTo("0");
        assertThat(told()).asInstanceOf(InstanceOfAssertFactories.LIST).contains("agreement-needed", "deleted");
    }

    /** A page that is dark by its own colours only, and one whose colours the dialog takes on. */
    @Test
    void theDialogIsReadableOnAnyPage() {
        look("<style>body { background: #111; color: #eee; }</style>"
                + "<vacancy-deletion api='/api' table='queen' key='2'><button>Delete…</button></vacancy-deletion>");
        click("vacancy-deletion button");
        button("Keep");
        assertAccessible();
        script("document.documentElement.style.setProperty('--vacancy-ground', 'rgb(17, 17, 17)');"
                + "document.documentElement.style.setProperty('--vacancy-ink', 'rgb(238, 238, 238)')");
        assertAccessible();

        assertThat(dialog().findElement(By.cssSelector("dialog")).getCssValue("background-color"))
                .contains("17, 17, 17");
    }

    /** The usual mode opens a second window, which not each driver can. */
    @SuppressWarnings("deprecation")
    private void assertAccessible() {
        assertThat(new AxeBuilder().setLegacyMode(true).analyze(browser()).getViolations())
                .isEmpty();
    }
}
