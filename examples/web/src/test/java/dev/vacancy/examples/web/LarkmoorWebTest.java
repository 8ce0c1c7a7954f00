package dev.vacancy.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.CookieManager;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The pages as a browser without scripts uses them. */
class LarkmoorWebTest {
    private static final Pattern HIDDEN = Pattern.compile("name=\"([a-z-]+)\" value=\"([^\"]*)\"");

    private static final Duration LONGEST = Duration.ofSeconds(30);

    private final HttpClient browser =
            HttpClient.newBuilder().cookieHandler(new CookieManager()).build();
    private DemoSite site;

    @BeforeEach
    void start() throws Exception {
        site = DemoSite.start();
    }

    @AfterEach
    void stop() {
        site.stop();
    }

    private HttpResponse<String> get(String path) throws Exception {
        return browser.send(
                HttpRequest.newBuilder(URI.create(site.address() + path)).build(), BodyHandlers.ofString());
    }

    private HttpResponse<String> post(String path, Map<String, String> fields) throws Exception {
        String body = fields.entrySet().stream()
                .map(field -> field.getKey() + "=" + URLEncoder.encode(field.getValue(), StandardCharsets.UTF_8))
                .collect(Collectors.joining("&"));
        return browser.send(
                HttpRequest.newBuilder(URI.create(site.address() + path))
                        .header("Content-Type", "application/x-www-form-urlencoded")
                        .POST(HttpRequest.BodyPublishers.ofString(body))
                        .build(),
                BodyHandlers.ofString());
    }

    /** The unseen fields of the form that leads somewhere. */
    private static Map<String, String> fields(HttpResponse<String> page, String action) {
        String form = page.body().substring(page.body().indexOf("action=\"" + action + "\""));
        Map<String, String> fields = new LinkedHashMap<>();
        Matcher field = HIDDEN.matcher(form.substring(0, form.indexOf("</form>")));
        while (field.find()) {
            fields.put(field.group(1), field.group(2));
        }
        return fields;
    }

    /** Where a link leads, below the site's address. */
    private static String link(HttpResponse<String> page, String text) {
        Matcher link =
                Pattern.compile("href=\"/([^\"]*)\">" + Pattern.quote(text)).matcher(page.body());
        assertThat(link.find()).isTrue();
        return link.group(1);
    }

    private long number(String query) throws Exception {
        return site.number(query);
    }

    @Test
    void aHiveIsLookedAtDeletedAndBroughtBack() throws Exception {
        HttpResponse<String> list = get("");
        HttpResponse<String> confirm = get("deletion?table=hive&key=12");
        long looked = number("select count(*) from hive");
        HttpResponse<String> done = post("deletion", fields(confirm, "/deletion"));
        long gone = number("select count(*) from hive");
        HttpResponse<String> undo = get(link(done, "Undo…"));
        HttpResponse<String> back = post("restoration", fields(undo, "/restoration"));

        assertThat(list.body()).contains("Hives, the newest first").contains("Delete the picked ones");
        assertThat(confirm.body())
                .contains("Delete hive 12 &#39;Bramble Three&#39; and")
                .contains("set_up_on");
        assertThat(looked).isEqualTo(40);
        assertThat(done.statusCode()).isEqualTo(200);
        assertThat(done.body()).contains("500 of reading").contains("Undo");
        assertThat(gone).isEqualTo(39);
        assertThat(back.body()).contains("records are back as they were");
        assertThat(number("select count(*) from reading")).isEqualTo(20_000);
        assertThat(get("history").body()).contains("deletion").contains("restore");
    }

    @Test
    void whatTheSearchBoxFindsFollowsDeletions() throws Exception {
        String found = "<td>12</td><td>Bramble Three, ";

        assertThat(get("search?q=three+BRAMBLE").body()).contains(found);
        assertThat(get("search?q=bramble+nobody").body()).contains("No hive has all of these words");
        HttpResponse<String> done = post("deletion", fields(get("deletion?table=hive&key=12"), "/deletion"));
        await(() -> !get("search?q=bramble+three").body().contains(found));
        post("restoration", fields(get(link(done, "Undo…")), "/restoration"));
        await(() -> get("search?q=bramble+three").body().contains(found));
        assertThat(get("search?q=%20").body()).contains("No hive has all of these words");
        assertThat(get("search?q=" + encoded("<script>")).body())
                .contains("value=\"&lt;script&gt;\"")
                .doesNotContain("value=\"<script>");
    }

    private interface Condition {
        boolean holds() throws Exception;
    }

    private static void await(Condition condition) throws Exception {
        for (long end = System.nanoTime() + LONGEST.toNanos(); !condition.holds(); ) {
            assertThat(System.nanoTime()).isLessThan(end);
            Thread.sleep(20);
        }
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    @Test
    void thePageOfARunTellsWhatIsToFollow() throws Exception {
        int inspections = (int) number("select count(*) from inspection where hive_id = 12");
        HttpResponse<String> confirm = get("deletion?table=hive&key=12");
        post("deletion", fields(confirm, "/deletion"));
        String address = "history?run=" + run();
        site.failAtLetters();

        HttpResponse<String> open = get(address);
        site.execute("update vacancy_follow_up set state = 'failed', attempts = 10 where follow_up = 'letters'");
        HttpResponse<String> failed = get(address);
        HttpResponse<String> given = post("follow-up", answered(failed, "give-up"));
        HttpResponse<String> again = post("follow-up", answered(get(address), "again"));
        HttpResponse<String> gone = post("follow-up", answered(failed, "give-up"));

        assertThat(inspections).isGreaterThan(1);
        assertThat(confirm.body())
                .contains("The follow-up &#39;letters&#39; is told of " + inspections + " records of inspection.")
                .contains("The follow-up &#39;search&#39; is told of 1 record of hive.");
        assertThat(open.body())
                .contains(
                        "What happened: deletion", "letters: deleted", "no &lt;paper&gt;", "500 of reading", "Restore…")
                .doesNotContain("Try again");
        assertThat(failed.body()).contains("no &lt;paper&gt;", "Try again", "Give up");
        assertThat(given.statusCode()).isEqualTo(303);
        assertThat(again.statusCode()).isEqualTo(303);
        assertThat(gone.statusCode()).isEqualTo(409);
        assertThat(number("select count(*) from vacancy_follow_up where follow_up = 'letters'"))
                .isEqualTo(inspections - 1);
        assertThat(number("select count(*) from vacancy_follow_up where follow_up = 'letters' and state = 'open'"))
                .isEqualTo(1);
        assertThat(get("history?run=" + UUID.randomUUID()).statusCode()).isEqualTo(404);
    }

    /** The page of the latest run, as the history links to it. */
    private String run() throws Exception {
        Matcher run = Pattern.compile("/history\\?run=([^\"]+)\">deletion")
                .matcher(get("history").body());
        assertThat(run.find()).isTrue();
        return run.group(1);
    }

    private static Map<String, String> answered(HttpResponse<String> page, String what) {
        Map<String, String> fields = fields(page, "/follow-up");
        fields.put("what", what);
        return fields;
    }

    @Test
    void aDoubleClickAndABackButtonDeleteOnce() throws Exception {
        Map<String, String> fields = fields(get("deletion?table=hive&key=12"), "/deletion");
        post("deletion", fields);

        HttpResponse<String> again = post("deletion", fields);

        assertThat(again.statusCode()).isEqualTo(200);
        assertThat(again.body()).contains("This had been done before; nothing more was deleted.");
        assertThat(number("select count(*) from hive")).isEqualTo(39);
        assertThat(number("select count(*) from vacancy_trail_run where kind = 'deletion'"))
                .isEqualTo(1);
    }

    @Test
    void whatChangedInAnotherTabIsShownAndAskedAgain() throws Exception {
        Map<String, String> fields = fields(get("deletion?table=hive&key=12"), "/deletion");
        site.execute("insert into inspection (inspection_id, hive_id, keeper_id, inspected_on, note)"
                + " select 99999, 12, keeper_id, inspected_on, note from inspection limit 1");

        HttpResponse<String> stale = post("deletion", fields);

        assertThat(stale.body())
                .contains("The records changed since the plan was approved: 1 more of inspection. Look again.");
        assertThat(number("select count(*) from hive")).isEqualTo(40);
    }

    @Test
    void aFormFromElsewhereChangesNothing() throws Exception {
        Map<String, String> fields = fields(get("deletion?table=hive&key=12"), "/deletion");
        fields.put("token", "0".repeat(32));

        HttpResponse<String> forged = post("deletion", fields);

        assertThat(forged.statusCode()).isEqualTo(403);
        assertThat(number("select count(*) from hive")).isEqualTo(40);
    }

    @Test
    void whatIsBlockedSaysWhyAndAKeeperIsHandedOver() throws Exception {
        HttpResponse<String> hive = get("deletion?table=hive&key=4");
        HttpResponse<String> keeper = get("deletion?table=keeper&key=3");
        HttpResponse<String> handed = get("deletion?table=keeper&key=3&keeper=7");
        HttpResponse<String> left = post("deletion", fields(handed, "/deletion"));
        HttpResponse<String> deleted = get("deleted");

        assertThat(hive.statusCode()).isEqualTo(409);
        assertThat(hive.body()).contains("a sold batch must stay traceable");
        assertThat(keeper.statusCode()).isEqualTo(409);
        assertThat(keeper.body()).contains("Hand the inspections over to");
        assertThat(left.body()).contains("1 of keeper (marked)");
        assertThat(deleted.body()).contains("Hesper Quill").contains("15").contains("Restore…");
        assertThat(number("select count(*) from keeper where left_at is null")).isEqualTo(10);
    }

    @Test
    void markupInARecordStaysText() throws Exception {
        site.execute("update hive set name = '<script>alert(1)</script>' where hive_id = 12");

        assertThat(get("deletion?table=hive&key=12").body())
                .doesNotContain("<script>")
                .contains("&lt;script&gt;");
        assertThat(get("deletion?table=hive&key=%3Cscript%3E").body()).doesNotContain("<script>");
        assertThat(get("deletion?table=hive&key=12").headers().firstValue("Content-Security-Policy"))
                .hasValueSatisfying(policy -> assertThat(policy)
                        .startsWith("default-src 'none'")
                        .contains("frame-ancestors 'none'", "base-uri 'none'"));
        assertThat(get("").headers().firstValue("Referrer-Policy")).hasValue("same-origin");
    }

    @Test
    void whatIsAskedAndTheAnswersComeBeforeTheDetails() throws Exception {
        String page = get("deletion?table=hive&key=12").body();

        assertThat(page)
                .containsSubsequence(
                        "<h1>Delete hive 12",
                        "What goes with it",
                        "class=\"go\">Delete<",
                        "set_up_on",
                        "class=\"plan\"");
    }

    @Test
    void aTableWithoutPagesIsNotTakenForAnother() throws Exception {
        HttpResponse<String> queen = get("deletion?table=queen&key=17");

        assertThat(queen.statusCode()).isEqualTo(400);
        assertThat(queen.body())
                .contains("Records of queen aren&#39;t deleted here.")
                .doesNotContain("hive 17");
    }

    @Test
    void oldReadingsGoInChunksAndTheRunIsWatchedAndStopped() throws Exception {
        HttpResponse<String> readings = get("readings");
        HttpResponse<String> confirm = get("deletion?table=reading&before=2026-09-01");
        Map<String, String> fields = fields(confirm, "/deletion");
        HttpResponse<String> untyped = post("deletion", fields);
        long old = number("select count(*) from reading where taken_at < timestamp '2026-09-01 00:00:00'");
        fields.put("typed", String.valueOf(old));
        HttpResponse<String> sent = post("deletion", fields);
        String run = sent.headers().firstValue("Location").orElseThrow().substring(1);
        HttpResponse<String> progress = get(run);
        Map<String, String> steering = fields(progress, "/run");
        steering.put("what", "cancel");
        post("run", steering);
        HttpResponse<String> end = get(run);

        assertThat(readings.body()).contains("20,000 readings, from ");
        assertThat(confirm.body())
                .contains("in chunks that are committed one by one?")
                .contains("Type " + old);
        assertThat(untyped.body()).contains("That wasn&#39;t what was to be typed.");
        assertThat(sent.statusCode()).isEqualTo(303);
        assertThat(progress.body())
                .contains("<progress data-run=")
                .contains("<noscript><meta http-equiv=\"refresh\" content=\"2\"></noscript>");
        assertThat(end.body()).contains("Deleting in chunks: cancelled").doesNotContain("noscript");
        assertThat(number("select count(*) from hive")).isEqualTo(40);
    }

    @Test
    void thePictureShowsWhatThePageSays() throws Exception {
        HttpResponse<String> page = get("deletion?table=hive&key=12");
        Matcher picture = Pattern.compile("<img [^>]*src=\"/([^\"]*)\"").matcher(page.body());

        assertThat(picture.find()).isTrue();
        HttpResponse<String> drawn = get(picture.group(1).replace("&amp;", "&"));
        assertThat(drawn.headers().firstValue("Content-Type")).hasValue("image/svg+xml");
        assertThat(drawn.body()).contains("Deleting hive 12").contains("500 records would go");
        assertThat(get("picture?table=hive&key=nothing").statusCode()).isEqualTo(404);
    }

    /** A page's cookie is good for the scripts of that page, and for nobody else's. */
    @Test
    void thePagesOwnScriptsActForWhomTheVisitorChose() throws Exception {
        get("");
        HttpResponse<String> plan = get("api/hive/12/deletion");
        HttpRequest.Builder delete = HttpRequest.newBuilder(URI.create(site.address() + "api/hive/12"))
                .header("If-Match", plan.headers().firstValue("ETag").orElseThrow())
                .DELETE();

        HttpResponse<String> foreign = browser.send(
                delete.copy().header("Sec-Fetch-Site", "cross-site").build(), BodyHandlers.ofString());
        HttpResponse<String> own =
                browser.send(delete.header("Sec-Fetch-Site", "same-origin").build(), BodyHandlers.ofString());

        assertThat(foreign.statusCode()).isEqualTo(403);
        assertThat(own.statusCode()).isEqualTo(204);
    }

    @Test
    void programsSignInAsAKeeper() throws Exception {
        URI plan = URI.create(site.address() + "api/hive/12/deletion");
        String known = Base64.getEncoder()
                .encodeToString("hesper.quill@larkmoor.example:larkmoor".getBytes(StandardCharsets.UTF_8));
        String wrong = Base64.getEncoder()
                .encodeToString("hesper.quill@larkmoor.example:guess".getBytes(StandardCharsets.UTF_8));

        assertThat(browser.send(HttpRequest.newBuilder(plan).build(), BodyHandlers.ofString())
                        .statusCode())
                .isEqualTo(401);
        assertThat(browser.send(
                                HttpRequest.newBuilder(plan)
                                        .header("Authorization", "Basic " + wrong)
                                        .build(),
                                BodyHandlers.ofString())
                        .statusCode())
                .isEqualTo(401);
        assertThat(browser.send(
                                HttpRequest.newBuilder(plan)
                                        .header("Authorization", "Basic " + known)
                                        .build(),
                                BodyHandlers.ofString())
                        .body())
                .contains("\"selected\":1");
    }

    /** The container's own limits and the header fields that a browser goes by. */
    @Test
    void pagesSayWhoMayFrameThemAndFormsHaveAnEnd() throws Exception {
        HttpResponse<String> page = get("");
        HttpResponse<String> large = post("deletion", Map.of("table", "hive", "key", "1".repeat(300_000)));

        assertThat(page.headers().firstValue("Content-Security-Policy").orElseThrow())
                .contains("frame-ancestors 'none'", "base-uri 'none'");
        assertThat(page.headers().firstValue("Referrer-Policy")).contains("same-origin");
        assertThat(large.statusCode()).isIn(400, 413);
        assertThat(number("select count(*) from hive")).isEqualTo(40);
    }

    /** What the container refuses by itself is a problem detail for programs, and tells nothing of what is inside. */
    @Test
    void whatTheContainerRefusesIsAProblemToo() throws Exception {
        for (String path : List.of("api/hive/%2f/deletion", "api/hive/%00/deletion", "api/../%2e%2e/secret")) {
            HttpResponse<String> refused = get(path);

            assertThat(refused.statusCode()).as(path).isEqualTo(400);
            assertThat(refused.body().toLowerCase(Locale.ROOT)).doesNotContain("jetty", "exception", "<html");
        }
        HttpResponse<String> ofPrograms = get("api/hive/%2f/deletion");
        assertThat(ofPrograms.headers().firstValue("Content-Type")).contains("application/problem+json");
        assertThat(ofPrograms.body()).contains("about:blank", "400");
    }

    /** Without scripts points in time are told to the minute; a script puts them into the visitor's zone. */
    @Test
    void pointsInTimeAreToldAsPeopleReadThem() throws Exception {
        HttpResponse<String> plan = get("deletion?table=hive&key=" + site.freeHive());
        Map<String, String> fields = fields(plan, "/deletion");
        fields.put("answer", "yes");
        post("deletion", fields);
        String history = get("history").body();

        assertThat(history)
                .containsPattern("<time datetime=\"20[^\"]+Z\">20\\d\\d-\\d\\d-\\d\\d \\d\\d:\\d\\d UTC</time>");
    }
}
