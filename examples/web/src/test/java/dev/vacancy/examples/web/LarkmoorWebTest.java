package dev.vacancy.examples.web;

import static org.assertj.core.api.Assertions.assertThat;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.Ddl;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.net.CookieManager;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.Statement;
import java.time.Period;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The pages as a browser without scripts uses them. */
class LarkmoorWebTest {
    private static final Pattern HIDDEN = Pattern.compile("name=\"([a-z-]+)\" value=\"([^\"]*)\"");

    private final HikariDataSource database = new HikariDataSource();
    private final HttpClient browser =
            HttpClient.newBuilder().cookieHandler(new CookieManager()).build();
    private LarkmoorWeb web;

    @BeforeEach
    void start() throws Exception {
        database.setJdbcUrl("jdbc:h2:mem:web" + System.nanoTime());
        try (Connection connection = database.getConnection()) {
            Larkmoor.create(connection, 1);
        }
        RuleBook rules = RuleBook.bySchema()
                .on(
                        "batch_hive.hive_id",
                        Clause.block("a sold batch must stay traceable").when("honey_batch.sold_on is not null"),
                        Clause.cascade())
                .on("inspection.keeper_id", Clause.reassign())
                .on("placement.keeper_id", Clause.keep())
                .marker("keeper", Marker.instant("left_at"))
                .soft("keeper", SoftDelete.usual().keptFor(Period.ofDays(15)))
                .trail(Trail.usual());
        Ddl.of(database, rules).apply();
        web = LarkmoorWeb.start(database, rules, 0);
    }

    @AfterEach
    void stop() {
        web.close();
        database.close();
    }

    private HttpResponse<String> get(String path) throws Exception {
        return browser.send(
                HttpRequest.newBuilder(URI.create(web.address() + path)).build(), BodyHandlers.ofString());
    }

    private HttpResponse<String> post(String path, Map<String, String> fields) throws Exception {
        String body = fields.entrySet().stream()
                .map(field -> field.getKey() + "=" + URLEncoder.encode(field.getValue(), StandardCharsets.UTF_8))
                .collect(Collectors.joining("&"));
        return browser.send(
                HttpRequest.newBuilder(URI.create(web.address() + path))
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

    private long number(String query) throws Exception {
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement();
                var row = statement.executeQuery(query)) {
            row.next();
            return row.getLong(1);
        }
    }

    @Test
    void aHiveIsLookedAtDeletedAndBroughtBack() throws Exception {
        HttpResponse<String> list = get("");
        HttpResponse<String> confirm = get("deletion?table=hive&key=12");
        long looked = number("select count(*) from hive");
        HttpResponse<String> done = post("deletion", fields(confirm, "/deletion"));
        long gone = number("select count(*) from hive");
        HttpResponse<String> back = post("restoration", fields(done, "/restoration"));

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
    void aDoubleClickAndABackButtonDeleteOnce() throws Exception {
        Map<String, String> fields = fields(get("deletion?table=hive&key=12"), "/deletion");
        post("deletion", fields);

        HttpResponse<String> again = post("deletion", fields);

        assertThat(again.statusCode()).isEqualTo(404);
        assertThat(number("select count(*) from hive")).isEqualTo(39);
    }

    @Test
    void whatChangedInAnotherTabIsShownAndAskedAgain() throws Exception {
        Map<String, String> fields = fields(get("deletion?table=hive&key=12"), "/deletion");
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("insert into reading values (99999, 12, timestamp '2026-03-01 00:00:00', 1, 1)");
        }

        HttpResponse<String> stale = post("deletion", fields);

        assertThat(stale.body()).contains("Something has changed since you looked.");
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
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("update hive set name = '<script>alert(1)</script>' where hive_id = 12");
        }

        assertThat(get("deletion?table=hive&key=12").body())
                .doesNotContain("<script>")
                .contains("&lt;script&gt;");
        assertThat(get("deletion?table=hive&key=%3Cscript%3E").body()).doesNotContain("<script>");
        assertThat(get("deletion?table=hive&key=12").headers().firstValue("Content-Security-Policy"))
                .hasValueSatisfying(policy -> assertThat(policy).startsWith("default-src 'none'"));
    }

    @Test
    void programsSignInAsAKeeper() throws Exception {
        URI plan = URI.create(web.address() + "api/hive/12/deletion");
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
}
