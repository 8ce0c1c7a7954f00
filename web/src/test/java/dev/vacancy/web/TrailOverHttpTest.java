package dev.vacancy.web;

import static dev.vacancy.web.Responses.encoded;
import static dev.vacancy.web.Responses.fingerprint;
import static dev.vacancy.web.Responses.json;
import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.vacancy.By;
import dev.vacancy.Permissions;
import dev.vacancy.Permissions.Action;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.net.http.HttpResponse;
import java.sql.Connection;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Why, by whom and how often: what the command line can, HTTP can as well. */
class TrailOverHttpTest {
    private static final ApprovalKeys KEYS = ApprovalKeys.signingWith("one", new byte[32]);
    private static final Pattern NEXT = Pattern.compile("<([^>]+)>; rel=\"next\"");

    private final Database database = Engine.H2.database();
    private Vacancy vacancy;
    private Site site;

    @BeforeEach
    void start() throws Exception {
        database.run(
                "create table hive (hive_id integer primary key, name varchar(40))",
                "create table reading (reading_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id))",
                "create table visit (visit_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id))",
                "create table queen (queen_id integer primary key, name varchar(40))",
                "create table history (history_id integer primary key, name varchar(40))",
                "create table secret (secret_id integer primary key)",
                "insert into hive values (1, 'One'), (2, 'Two'), (3, 'Three'), (4, 'Four')",
                "insert into reading values (11, 1), (12, 1)",
                "insert into visit values (21, 2)",
                "insert into queen values (1, 'Elowen')",
                "insert into history values (7, 'Seven')",
                "insert into secret values (1)");
        RuleBook rules = RuleBook.bySchema()
                .on("reading.hive_id", Clause.cascade())
                .on("visit.hive_id", Clause.block("a visit is planned"))
                .consent("queen", ConsentRule.atLeast(Consent.LABEL))
                .consent("secret", ConsentRule.atLeast(Consent.NONE))
                .trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        vacancy = Vacancy.over(database.source(), rules);
        Ddl.of(database.source(), Ddl.Part.APPROVALS).apply();
        site = Site.of(
                vacancy,
                List.of("hive", "queen", "history"),
                (by, act, table) -> !by.actor().equals("guest") || act == Action.PREVIEW,
                WebOptions.defaults().signing(KEYS));
    }

    @AfterEach
    void stop() throws Exception {
        site.stop();
    }

    private HttpResponse<String> get(String path, String... headers) throws Exception {
        return site.send("GET", path, "", headers);
    }

    private List<String> told(HttpResponse<String> response, String member) {
        List<String> told = new ArrayList<>();
        json(response).forEach(each -> told.add(each.get(member).asString()));
        return told;
    }

    @Test
    void aReasonIsGivenInAHeaderFieldOrInContent() throws Exception {
        String reason = "die Königin ist fort, 100 %";
        HttpResponse<String> one = get("/hive/3/deletion");
        site.send("DELETE", "/hive/3", "", "Vacancy-Fingerprint", fingerprint(one), "Vacancy-Reason", encoded(reason));
        HttpResponse<String> four = site.send("POST", "/hive/deletions", "{\"keys\": [4]}");
        site.send(
                "POST",
                "/hive/deletions",
                "{\"keys\": [4], \"fingerprint\": \"" + fingerprint(four) + "\", \"reason\": \"given up\"}");
        HttpResponse<String> long1 = get("/hive/1/deletion", "Vacancy-Reason", "x".repeat(1_001));
        HttpResponse<String> blank = get("/hive/1/deletion", "Vacancy-Reason", "%20");

        assertThat(told(get("/history/runs"), "reason")).containsExactly("given up", reason);
        assertThat(told(get("/hive/3/history"), "reason")).containsExactly(reason);
        assertThat(long1.statusCode()).isEqualTo(400);
        assertThat(json(long1).get("detail").asString()).contains("1001 characters", "1000");
        assertThat(blank.statusCode()).isEqualTo(400);
    }

    /** What a signed approval is of has guards as well; another guard is another request. */
    @Test
    void aSelectionIsGuardedAndBlockedRecordsAreLeftOut() throws Exception {
        String all = "{\"where\": \"hive_id < 4\"}";
        HttpResponse<String> blocked = site.send("POST", "/hive/deletions", all);
        HttpResponse<String> skipping = site.send("POST", "/hive/deletions?skip-blocked=true&expect=3", all);
        HttpResponse<String> expected = site.send("POST", "/hive/deletions?expect=4", all);
        HttpResponse<String> most = site.send("POST", "/hive/deletions?at-most=2", all);
        HttpResponse<String> neither = site.send("POST", "/hive/deletions?skip-blocked=yes", all);
        HttpResponse<String> none = site.send("POST", "/hive/deletions?expect=many", all);
        HttpResponse<String> unguarded = site.send(
                "POST", "/hive/deletions?skip-blocked=true", all, "Vacancy-Fingerprint", fingerprint(skipping));
        HttpResponse<String> done = site.send(
                "POST",
                "/hive/deletions?skip-blocked=true&expect=3",
                all,
                "Vacancy-Fingerprint",
                fingerprint(skipping));

        assertThat(json(blocked).get("question").isNull()).isTrue();
        assertThat(json(skipping).get("skipped")).hasSize(1);
        assertThat(expected.statusCode()).isEqualTo(400);
        assertThat(json(expected).get("type").asString()).endsWith(":unexpected-count");
        assertThat(most.statusCode()).isEqualTo(400);
        assertThat(neither.statusCode()).isEqualTo(400);
        assertThat(none.statusCode()).isEqualTo(400);
        assertThat(unguarded.statusCode()).isEqualTo(412);
        assertThat(done.statusCode()).isEqualTo(204);
        assertThat(database.rows("select hive_id from hive order by hive_id")).containsExactly("2", "4");
    }

    @Test
    void whatSomebodyDidIsToldPartByPart() throws Exception {
        vacancy.delete(Selection.of("hive").key(1), By.user("tam").because("swarmed"));
        vacancy.delete(Selection.of("hive").key(3), By.user("odile"));
        vacancy.delete(Selection.of("hive").key(4), By.user("tam"));
        vacancy.delete(Selection.of("secret").key(1), By.user("tam"));

        HttpResponse<String> first = get("/history?actor=tam&limit=1");
        Matcher next = NEXT.matcher(first.headers().firstValue("Link").orElseThrow());
        assertThat(next.matches()).isTrue();
        HttpResponse<String> second = get(next.group(1));
        List<String> rest = told(get("/history?actor=tam&limit=10&offset=1"), "table");

        assertThat(told(first, "key")).containsExactly("4");
        assertThat(json(second)).hasSize(1);
        assertThat(rest).as("what isn't offered isn't told").containsExactlyInAnyOrder("hive");
        assertThat(told(get("/history/runs?actor=tam"), "reason")).containsExactly("", "swarmed");
        assertThat(get("/history/runs?actor=tam").headers().firstValue("Link")).isEmpty();
        assertThat(json(get("/history?from=2999-01-01T00:00:00Z"))).isEmpty();
        assertThat(json(get("/history?until=2999-01-01T00:00:00%2B02:00&table=hive")))
                .hasSize(3);
        assertThat(get("/history?until=yesterday").statusCode()).isEqualTo(400);
        assertThat(get("/history?table=secret").statusCode()).isEqualTo(404);
        assertThat(get("/history?limit=0").statusCode()).isEqualTo(400);
        assertThat(json(get("/history", "X-User", "guest"))).isEmpty();
    }

    @Test
    void whatIsNoTextIsRefused() throws Exception {
        for (String path : List.of("/history?actor=%ff", "/runs?limit=%e4", "/hive/1/deletion?reassign=%c3%28")) {
            assertThat(get(path).statusCode()).as(path).isEqualTo(400);
        }
        for (String reason : List.of("{\"a\": 1}", "7", "[]", "true")) {
            assertThat(site.send("POST", "/hive/deletions", "{\"keys\": [1], \"reason\": " + reason + "}")
                            .statusCode())
                    .as(reason)
                    .isEqualTo(400);
        }
    }

    /** A table may be called what something else is called as well. */
    @Test
    void aTableThatIsCalledHistoryIsStillATable() throws Exception {
        HttpResponse<String> plan = get("/history/7/deletion");
        HttpResponse<String> done = site.send("DELETE", "/history/7", "", "Vacancy-Fingerprint", fingerprint(plan));

        assertThat(plan.statusCode()).isEqualTo(200);
        assertThat(done.statusCode()).isEqualTo(204);
        assertThat(get("/holds/7/deletion").statusCode()).isEqualTo(404);
    }

    @Test
    void recordsAreHeldAndLifted() throws Exception {
        HttpResponse<String> without = site.send("POST", "/holds", "{\"table\": \"hive\", \"where\": \"hive_id = 3\"}");
        HttpResponse<String> held = site.send(
                "POST", "/holds", "{\"table\": \"hive\", \"where\": \"hive_id = 3\", \"reason\": \"a claim\"}");
        HttpResponse<String> plan = get("/hive/3/deletion");
        HttpResponse<String> listed = get("/holds");
        HttpResponse<String> notOffered =
                site.send("POST", "/holds", "{\"table\": \"secret\", \"where\": \"secret_id = 1\", \"reason\": \"x\"}");
        HttpResponse<String> guest = site.send(
                "POST",
                "/holds",
                "{\"table\": \"hive\", \"where\": \"hive_id = 1\", \"reason\": \"x\"}",
                "X-User",
                "guest");
        String hold = held.headers().firstValue("Location").orElseThrow();
        HttpResponse<String> lifted = site.send("DELETE", hold, "", "Vacancy-Reason", "settled");

        assertThat(without.statusCode()).isEqualTo(400);
        assertThat(held.statusCode()).isEqualTo(201);
        assertThat(json(plan).get("obstacles").get(0).asString()).contains("a claim");
        assertThat(told(listed, "selection")).containsExactly("hive_id = 3");
        assertThat(notOffered.statusCode()).isEqualTo(404);
        assertThat(guest.statusCode()).isEqualTo(403);
        assertThat(lifted.statusCode()).isEqualTo(204);
        assertThat(json(get("/holds"))).isEmpty();
        assertThat(json(get("/hive/3/deletion")).get("question").isNull()).isFalse();
    }

    @Test
    void aRecordIsErasedWithWhatTheTrailHoldsOfIt() throws Exception {
        vacancy.delete(Selection.of("hive").key(3), By.user("tam"));
        HttpResponse<String> there = get("/queen/1/erasure");
        HttpResponse<String> gone = get("/hive/3/erasure");
        HttpResponse<String> unasked = site.send("POST", "/queen/1/erasure", "");
        HttpResponse<String> unanswered =
                site.send("POST", "/queen/1/erasure", "", "Vacancy-Fingerprint", fingerprint(there));
        HttpResponse<String> erased = site.send(
                "POST",
                "/queen/1/erasure",
                "{\"answer\": \"Elowen\", \"reason\": \"asked for it\"}",
                "Vacancy-Fingerprint",
                fingerprint(there));
        HttpResponse<String> signed = site.send(
                "POST",
                "/hive/3/erasure",
                "{\"approval\": \"" + json(gone).get("approval").asString() + "\"}");
        HttpResponse<String> guest = get("/hive/1/erasure", "X-User", "guest");

        assertThat(json(there).get("typed").asString()).isEqualTo("Elowen");
        assertThat(json(gone).get("entries").asInt()).isEqualTo(1);
        assertThat(unasked.statusCode()).isEqualTo(428);
        assertThat(unanswered.statusCode()).isEqualTo(409);
        assertThat(erased.statusCode()).isEqualTo(200);
        assertThat(json(erased).get("counts").get("queen").asInt()).isEqualTo(1);
        assertThat(signed.statusCode()).isEqualTo(200);
        assertThat(guest.statusCode()).isEqualTo(403);
        assertThat(json(get("/history")))
                .allSatisfy(entry -> assertThat(entry.get("before").isNull()).isTrue());
        assertThat(database.count("queen")).isZero();
        assertThat(get("/queen/1/erasure").statusCode()).isEqualTo(404);
        assertThat(get("/hive/99/erasure").statusCode()).isEqualTo(404);
    }

    /** The first click waits for somebody who holds the record; the second one learns what comes of the first. */
    @Test
    void aSecondClickDuringASlowRunLearnsWhatCameOfTheFirst() throws Exception {
        String tag = get("/hive/1/deletion").headers().firstValue("ETag").orElseThrow();
        CompletableFuture<HttpResponse<String>> first;
        CompletableFuture<HttpResponse<String>> second;
        try (Connection holding = database.source().getConnection();
                Statement statement = holding.createStatement()) {
            holding.setAutoCommit(false);
            statement.execute("select * from hive where hive_id = 1 for update");
            first = CompletableFuture.supplyAsync(() -> delete(tag));
            await().until(() -> database.rows(
                            "select count(*) from information_schema.sessions where blocker_id is not null")
                    .equals(List.of("1")));
            second = CompletableFuture.supplyAsync(() -> delete(tag));
            await().during(Duration.ofMillis(300)).until(() -> !second.isDone() && !first.isDone());
            holding.rollback();
        }

        assertThat(first.get().statusCode()).isEqualTo(200);
        assertThat(second.get().body()).isEqualTo(first.get().body());
        assertThat(json(get("/history/runs"))).hasSize(1);
    }

    private HttpResponse<String> delete(String tag) {
        try {
            return site.send("DELETE", "/hive/1", "", "If-Match", tag, "Prefer", "return=representation");
        } catch (Exception failed) {
            throw new AssertionError(failed);
        }
    }

    /** What is back again isn't said to be gone, however often it was agreed to before. */
    @Test
    void aRecordThatCameBackAndWasChangedIsNotToldAsDeleted() throws Exception {
        String tag = get("/hive/3/deletion").headers().firstValue("ETag").orElseThrow();
        HttpResponse<String> done = site.send("DELETE", "/hive/3", "", "If-Match", tag);
        HttpResponse<String> again = site.send("DELETE", "/hive/3", "", "If-Match", tag);
        database.run("insert into hive values (3, 'Another')");
        HttpResponse<String> other = site.send("DELETE", "/hive/3", "", "If-Match", tag);

        assertThat(List.of(done.statusCode(), again.statusCode())).containsExactly(204, 204);
        assertThat(other.statusCode()).isEqualTo(412);
        assertThat(database.count("hive")).isEqualTo(4);
    }

    /** Who may see what is theirs only, is told of nothing else at any address. */
    @Test
    void columnsAreWithheldAndOthersRecordsRefused() throws Exception {
        vacancy.delete(Selection.of("hive").key(3), By.user("tam"));
        site.stop();
        site = Site.of(
                vacancy, List.of("hive"), request -> Optional.of(By.user("odile")), allowed(), WebOptions.defaults());

        HttpResponse<String> own = get("/hive/2/deletion");
        assertThat(own.statusCode()).isEqualTo(200);
        assertThat(own.body()).doesNotContain("Two");
        assertThat(get("/hive/1/deletion").statusCode()).isEqualTo(403);
        assertThat(site.send("POST", "/hive/deletions", "{\"where\": \"name = 'Two'\"}")
                        .statusCode())
                .isEqualTo(403);
        assertThat(json(get("/history"))).isEmpty();
        assertThat(json(get("/hive/3/history"))).isEmpty();
    }

    private static Permissions allowed() {
        Permissions all = (by, act, table) -> true;
        return all.ofRecords((by, act, table, values) -> Integer.valueOf(2).equals(values.get("hive_id")))
                .withholding((by, table, column) -> column.equals("name"));
    }
}
