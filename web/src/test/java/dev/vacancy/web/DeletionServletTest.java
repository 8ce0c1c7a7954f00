package dev.vacancy.web;

import static dev.vacancy.web.Responses.json;
import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Permissions;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.net.http.HttpResponse;
import java.sql.Connection;
import java.sql.Statement;
import java.time.Period;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;

/** Raw HTTP: every status that the servlet gives, and what the database holds afterwards. */
class DeletionServletTest {
    private final Database database = Engine.H2.database();
    private Site site;

    @BeforeEach
    void start() throws Exception {
        database.run(
                "create table hive (hive_id integer primary key, name varchar(40))",
                "create table reading (reading_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "create table treatment (treatment_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "create table secret (secret_id integer primary key)",
                "create table keeper (keeper_id integer primary key, name varchar(40), left_at timestamp)",
                "insert into keeper values (1, 'Odile', null)",
                "create table jar (a varchar(9), b integer, primary key (a, b))",
                "insert into hive values (1, 'Fellside'), (2, 'Bramble'), (3, '<b>Odd</b>'), (4, 'Four'), (5, 'Five')",
                "insert into reading values (10, 1), (11, 1)",
                "insert into treatment values (20, 2)",
                "insert into secret values (1)",
                "create table queen (queen_id integer primary key, name varchar(40), born decimal(30, 2))",
                "insert into queen values (1, '<b>Odd</b>', null), (2, 'Elowen', null)",
                "insert into jar values ('x', 1)");
        RuleBook rules = RuleBook.bySchema()
                .on("treatment.hive_id", Clause.block("its withholding period runs"))
                .marker("keeper", Marker.timestamp("left_at"))
                .soft("keeper", SoftDelete.defaults().keptFor(Period.ofDays(15)))
                .consent("jar", ConsentRule.atLeast(Consent.NONE))
                .consent("queen", ConsentRule.atLeast(Consent.LABEL))
                .trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules);
        site = Site.of(
                vacancy,
                List.of("hive", "jar", "keeper", "queen"),
                (by, act, table) -> !by.actor().equals("guest") || act == Permissions.Action.PREVIEW,
                WebOptions.defaults());
    }

    @AfterEach
    void stop() throws Exception {
        site.stop();
    }

    private HttpResponse<String> send(String method, String path, String body, String... headers) throws Exception {
        return site.send(method, path, body, headers);
    }

    private String tag(String path) throws Exception {
        return send("GET", path, "").headers().firstValue("ETag").orElseThrow();
    }

    @Test
    void thePlanIsAskedForAndExactlyItIsRun() throws Exception {
        HttpResponse<String> plan = send("GET", "/hive/1/deletion", "");
        String tag = plan.headers().firstValue("ETag").orElseThrow();
        long before = database.count("hive");
        HttpResponse<String> done = send("DELETE", "/hive/1", "", "If-Match", tag);
        HttpResponse<String> again = send("DELETE", "/hive/1", "", "If-Match", tag);
        HttpResponse<String> somebodyElse = send("DELETE", "/hive/1", "", "If-Match", tag, "X-User", "tam");

        assertThat(plan.statusCode()).isEqualTo(200);
        assertThat(json(plan).get("counts").get("reading").asInt()).isEqualTo(2);
        assertThat(json(plan).get("question").asString())
                .isEqualTo("Delete hive 1 'Fellside' and 2 records that depend on it?");
        assertThat(tag).startsWith('"' + json(plan).get("fingerprint").asString() + '.');
        assertThat(before).isEqualTo(5);
        assertThat(done.statusCode()).isEqualTo(204);
        assertThat(database.count("reading")).isZero();
        assertThat(again.statusCode()).isEqualTo(204);
        assertThat(somebodyElse.statusCode()).isEqualTo(404);
    }

    @Test
    void theOutcomeIsGivenToWhomPrefersIt() throws Exception {
        HttpResponse<String> done =
                send("DELETE", "/hive/3", "", "If-Match", tag("/hive/3/deletion"), "Prefer", "return=representation");

        assertThat(done.statusCode()).isEqualTo(200);
        assertThat(json(done).get("run").asString()).hasSize(36);
        assertThat(json(done).get("by").get("actor").asString()).isEqualTo("odile");
    }

    @Test
    void whatTheRulesSpareThePersonGoesWithoutBeingLookedAt() throws Exception {
        HttpResponse<String> blind = send("DELETE", "/jar/x,1", "");
        HttpResponse<String> typed = send("GET", "/queen/1/deletion", "");

        assertThat(blind.statusCode()).isEqualTo(204);
        assertThat(database.count("jar")).isZero();
        assertThat(json(typed).get("consent").asString()).isEqualTo("label");
        assertThat(json(typed).get("typed").asString()).isEqualTo("<b>Odd</b>");
    }

    /** Each response of these tests is held against it. */
    @Test
    void theDocumentIsServedToEverybody() throws Exception {
        HttpResponse<String> document = send("GET", "/openapi.json", "", "X-User", "");

        assertThat(document.statusCode()).isEqualTo(200);
        assertThat(json(document)).isEqualTo(Contract.served().document());
        assertThat(json(document).get("openapi").asString()).isEqualTo("3.1.0");
        assertThat(send("HEAD", "/openapi.json", "").statusCode()).isEqualTo(200);
    }

    @Test
    void softDeletedRecordsAreListedWithWhoDeletedThem() throws Exception {
        send("DELETE", "/keeper/1", "", "If-Match", tag("/keeper/1/deletion"));
        HttpResponse<String> deleted = send("GET", "/keeper/deleted", "");
        HttpResponse<String> never = send("GET", "/hive/deleted", "");

        assertThat(json(deleted)).singleElement().satisfies(record -> {
            assertThat(record.get("actor").asString()).isEqualTo("odile");
            assertThat(record.get("daysLeft").asInt()).isEqualTo(15);
        });
        assertThat(never.statusCode()).isEqualTo(400);
    }

    @Test
    void whoeverHasNotLookedIsAskedAndNothingHappens() throws Exception {
        HttpResponse<String> blind = send("DELETE", "/hive/1", "");

        assertThat(blind.statusCode()).isEqualTo(428);
        assertThat(blind.headers().firstValue("Content-Type"))
                .hasValueSatisfying(type -> assertThat(type).startsWith("application/problem+json"));
        assertThat(json(blind).get("type").asString()).isEqualTo("urn:vacancy:problem:no-approval");
        assertThat(database.count("hive")).isEqualTo(5);
    }

    @Test
    void whatChangedSinceIsTold() throws Exception {
        String tag = tag("/hive/1/deletion");
        database.run("insert into reading values (12, 1)");

        HttpResponse<String> stale = send("DELETE", "/hive/1", "", "If-Match", tag);
        HttpResponse<String> strange = send("DELETE", "/hive/1", "", "If-Match", "\"no such plan\"");

        assertThat(stale.statusCode()).isEqualTo(412);
        assertThat(json(stale).get("differences").get(0).asString()).isEqualTo("1 more of reading");
        assertThat(strange.statusCode()).isEqualTo(412);
        assertThat(database.count("hive")).isEqualTo(5);
    }

    /** A plan that was agreed to for one record is nothing for another. */
    @Test
    void theTagOfOneRecordDoesNotDeleteAnother() throws Exception {
        HttpResponse<String> other = send("DELETE", "/hive/4", "", "If-Match", tag("/hive/1/deletion"));

        assertThat(other.statusCode()).isEqualTo(412);
        assertThat(database.count("hive")).isEqualTo(5);
    }

    @Test
    void whatIsBlockedOrHeldOrMissingSaysSo() throws Exception {
        HttpResponse<String> blocked = send("DELETE", "/hive/2", "", "If-Match", tag("/hive/2/deletion"));
        HttpResponse<String> missing = send("GET", "/hive/99/deletion", "");
        HttpResponse<String> wrong = send("GET", "/hive/twelve/deletion", "");
        String tag = tag("/hive/5/deletion");
        HttpResponse<String> held;
        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            statement.execute("update hive set name = 'busy' where hive_id = 5");
            held = send("DELETE", "/hive/5", "", "If-Match", tag);
            connection.rollback();
        }

        assertThat(blocked.statusCode()).isEqualTo(409);
        assertThat(json(blocked).get("detail").asString()).contains("its withholding period runs");
        assertThat(missing.statusCode()).isEqualTo(404);
        assertThat(wrong.statusCode()).isEqualTo(400);
        assertThat(held.statusCode()).isEqualTo(423);
        assertThat(database.count("hive")).isEqualTo(5);
    }

    @Test
    void nobodyAndWhoeverMayNotIsRefused() throws Exception {
        HttpResponse<String> nobody = send("GET", "/hive/1/deletion", "", "X-User", "");
        String tag = tag("/hive/1/deletion");
        HttpResponse<String> guest = send("DELETE", "/hive/1", "", "If-Match", tag, "X-User", "guest");
        HttpResponse<String> history = send("GET", "/hive/1/history", "", "X-User", "guest");

        assertThat(nobody.statusCode()).isEqualTo(401);
        assertThat(nobody.headers().firstValue("WWW-Authenticate")).isPresent();
        assertThat(guest.statusCode()).isEqualTo(403);
        assertThat(history.statusCode()).isEqualTo(403);
        assertThat(database.count("hive")).isEqualTo(5);
    }

    @Test
    void tablesOutsideTheListAndTricksWithPathsFindNothing() throws Exception {
        for (String path : List.of(
                "/secret/1/deletion",
                "/SECRET/1/deletion",
                "/PUBLIC.secret/1/deletion",
                "/",
                "/hive",
                "/hive/1/deletion/x",
                "/hive/1/other",
                "/runs/x/restoration",
                "/vacancy_trail_run/0/deletion")) {
            assertThat(send("GET", path, "").statusCode()).as(path).isEqualTo(404);
        }
        assertThat(send("DELETE", "/secret/1", "", "If-Match", "\"x\"").statusCode())
                .isEqualTo(404);
        assertThat(send("GET", "/hive/..%2fsecret%2f1/deletion", "").statusCode())
                .isIn(400, 404);
        assertThat(send("GET", "/hive/1'%20or%20'1'='1/deletion".replace("'", "%27"), "")
                        .statusCode())
                .isEqualTo(400);
        assertThat(database.count("secret")).isEqualTo(1);
    }

    @Test
    void lookingNeverChangesAnything() throws Exception {
        String tag = tag("/hive/1/deletion");
        for (String path : List.of("/hive/1/deletion", "/hive/1", "/hive/1/history")) {
            send("GET", path, "", "If-Match", tag);
            send("HEAD", path, "", "If-Match", tag);
        }
        assertThat(send("PUT", "/hive/1", "").statusCode()).isEqualTo(405);
        assertThat(database.count("hive")).isEqualTo(5);
        assertThat(database.count("vacancy_trail_run")).isEqualTo(1);
    }

    /** The container doesn't let a servlet see them. */
    @Test
    void headersThatAreTooLargeAreRefused() throws Exception {
        HttpResponse<String> large = site.sendUnchecked("GET", "/hive/1/deletion", "X-User", "x".repeat(100_000));

        assertThat(large.statusCode()).isEqualTo(431);
    }

    @Test
    void severalGoTogether() throws Exception {
        HttpResponse<String> plan = send("POST", "/hive/deletions", "{\"keys\": [4, 5]}");
        String tag = plan.headers().firstValue("ETag").orElseThrow();
        HttpResponse<String> other = send("POST", "/hive/deletions", "{\"keys\": [3, 5]}", "If-Match", tag);
        HttpResponse<String> done = send("POST", "/hive/deletions", "{\"where\": \"name like 'F%v%'\"}");
        HttpResponse<String> both = send(
                "POST", "/hive/deletions", "{\"keys\": [4, 5]}", "If-Match", tag, "Prefer", "return=representation");

        assertThat(json(plan).get("selected").asInt()).isEqualTo(2);
        assertThat(other.statusCode()).isEqualTo(412);
        assertThat(json(done).get("selected").asInt()).isEqualTo(1);
        assertThat(both.statusCode()).isEqualTo(200);
        assertThat(database.count("hive")).isEqualTo(3);
    }

    @Test
    void contentThatSelectsNothingOrIsTooLargeIsRefused() throws Exception {
        for (String body : List.of(
                "",
                "{}",
                "[]",
                "{\"keys\": []}",
                "{\"keys\": null}",
                "{\"where\": \"1 = 1\"}",
                "{\"keys\": [1], \"where\": \"hive_id = 1\"}",
                "{\"where\": \"hive_id = 1; drop table hive\"}")) {
            assertThat(send("POST", "/hive/deletions", body).statusCode())
                    .as(body)
                    .isEqualTo(400);
        }
        String large = "{\"keys\": [" + "1,".repeat(600_000) + "1]}";
        assertThat(send("POST", "/hive/deletions", large).statusCode()).isEqualTo(413);
        assertThat(database.count("hive")).isEqualTo(5);
    }

    @Test
    void whatWentComesBackAndTheHistoryTellsIt() throws Exception {
        HttpResponse<String> done =
                send("DELETE", "/hive/1", "", "If-Match", tag("/hive/1/deletion"), "Prefer", "return=representation");
        String run = json(done).get("run").asString();
        HttpResponse<String> blind = send("POST", "/runs/" + run + "/restoration", "");
        String tag = tag("/runs/" + run + "/restoration");
        HttpResponse<String> back = send("POST", "/runs/" + run + "/restoration", "", "If-Match", tag);
        HttpResponse<String> twice = send("POST", "/runs/" + run + "/restoration", "", "If-Match", tag);
        HttpResponse<String> history = send("GET", "/hive/1/history", "");

        assertThat(blind.statusCode()).isEqualTo(428);
        assertThat(back.statusCode()).isEqualTo(200);
        assertThat(json(back).get("counts").get("reading").asInt()).isEqualTo(2);
        assertThat(twice.statusCode()).isEqualTo(409);
        assertThat(database.count("reading")).isEqualTo(2);
        assertThat(json(history))
                .extracting(entry -> entry.get("action").asString())
                .containsExactly("restored", "deleted");
    }

    @Test
    void aKeyOfSeveralColumnsIsWrittenWithCommas() throws Exception {
        HttpResponse<String> plan = send("GET", "/jar/x,1/deletion", "");
        HttpResponse<String> other = send("GET", "/jar/x,2/deletion", "");
        HttpResponse<String> half = send("GET", "/jar/x/deletion", "");

        assertThat(json(plan).get("counts").get("jar").asInt()).isEqualTo(1);
        assertThat(other.statusCode()).isEqualTo(404);
        assertThat(half.statusCode()).isEqualTo(400);
    }

    /** Of many who agree to the same, one deletes, and nobody deletes more; whoever has sent it himself learns what came of it. */
    @RepeatedTest(5)
    void fiftyAtOnceDeleteOnce() throws Exception {
        String tag = tag("/hive/1/deletion");
        ExecutorService threads = Executors.newFixedThreadPool(50);
        List<Future<HttpResponse<String>>> sent = new ArrayList<>();
        for (int i = 0; i < 50; i++) {
            String user = i % 2 == 0 ? "odile" : "tam";
            sent.add(threads.submit(() ->
                    send("DELETE", "/hive/1", "", "If-Match", tag, "X-User", user, "Prefer", "return=representation")));
        }
        List<HttpResponse<String>> all = new ArrayList<>();
        for (Future<HttpResponse<String>> response : sent) {
            all.add(response.get());
        }
        threads.shutdown();

        List<HttpResponse<String>> done =
                all.stream().filter(response -> response.statusCode() == 200).toList();
        assertThat(all).allMatch(response -> List.of(200, 404, 412, 423).contains(response.statusCode()));
        assertThat(done)
                .hasSize(25)
                .extracting(response -> json(response).get("run").asString())
                .containsOnly(json(done.get(0)).get("run").asString());
        assertThat(database.count("hive")).isEqualTo(4);
    }
}
