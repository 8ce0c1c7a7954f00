package dev.vacancy.web;

import static dev.vacancy.web.Responses.json;
import static dev.vacancy.web.Responses.location;
import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.io.InputStream;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.StringJoiner;
import java.util.UUID;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A large deletion is accepted, becomes a bulk run, and can be watched and steered. */
class BulkOverHttpTest {
    private static final int READINGS = 3_000;

    private final Database database = Engine.H2.database();
    private Vacancy vacancy;
    private Site site;

    @BeforeEach
    void start() throws Exception {
        StringJoiner readings = new StringJoiner(", ", "insert into reading values ", "");
        for (int i = 1; i <= READINGS; i++) {
            readings.add("(" + i + ", 7)");
        }
        database.run(
                "create table reading (reading_id integer primary key, weight integer)",
                "create table secret (secret_id integer primary key, weight integer)",
                "insert into secret values (1, 7)",
                readings.toString(),
                "insert into reading values (90001, 8)");
        vacancy = Vacancy.over(
                database.source(), RuleBook.bySchema().consent("reading", ConsentRule.atLeast(Consent.NUMBER)));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        site = Site.of(
                vacancy,
                List.of("reading"),
                (by, act, table) -> !by.actor().equals("guest") || act == Permissions.Action.PREVIEW,
                WebOptions.defaults().inChunksBeyond(1_000));
    }

    @AfterEach
    void stop() throws Exception {
        site.stop();
    }

    private HttpResponse<String> ask() throws Exception {
        return site.send("POST", "/reading/deletions", "{\"where\": \"weight = 7\"}");
    }

    private HttpResponse<String> agree(HttpResponse<String> asked, String answer, String... headers) throws Exception {
        String[] all = new String[headers.length + 2];
        all[0] = "If-Match";
        all[1] = asked.headers().firstValue("ETag").orElseThrow();
        System.arraycopy(headers, 0, all, 2, headers.length);
        return site.send("POST", location(asked) + "/approval", "{\"answer\": \"" + answer + "\"}", all);
    }

    private BulkRun ended(String run) {
        return await().atMost(Duration.ofSeconds(60))
                .until(
                        () -> vacancy.bulk().run(UUID.fromString(run)),
                        each -> each.state().isFinal());
    }

    @Test
    void itIsAcceptedOnceAndWatchedToItsEnd() throws Exception {
        HttpResponse<String> asked = ask();
        HttpResponse<String> wrong = agree(asked, "yes");
        HttpResponse<String> accepted = agree(asked, "3000");
        HttpResponse<String> twice = agree(asked, "3000");
        HttpResponse<String> events = site.send("GET", location(accepted) + "/events", "");
        HttpResponse<String> end = site.send("GET", location(accepted), "");

        assertThat(json(asked).get("inChunks").asBoolean()).isTrue();
        assertThat(wrong.statusCode()).isEqualTo(409);
        assertThat(accepted.statusCode()).isEqualTo(202);
        assertThat(accepted.headers().firstValue("Retry-After")).hasValue("1");
        assertThat(location(twice)).isEqualTo(location(accepted));
        assertThat(events.body()).endsWith("\n\n").contains("event: done\ndata: {");
        assertThat(json(end).get("state").asString()).isEqualTo("done");
        assertThat(json(end).get("deleted").asInt()).isEqualTo(READINGS);
        assertThat(end.headers().firstValue("Retry-After")).isEmpty();
        assertThat(database.rows("select reading_id from reading")).containsExactly("90001");
        assertThat(json(site.send("GET", "/runs", ""))).hasSize(1);
    }

    @Test
    void whatChangedMeanwhileIsNotBegun() throws Exception {
        HttpResponse<String> asked = ask();
        database.run("insert into reading values (90002, 7)");

        assertThat(agree(asked, "3001").statusCode()).isEqualTo(412);
        assertThat(json(site.send("GET", "/runs", ""))).isEmpty();
        assertThat(database.count("reading")).isEqualTo(READINGS + 2L);
    }

    @Test
    void itCanBePausedResumedAndCancelled() throws Exception {
        String run = startedOf(Selection.of("reading").where(Criteria.parse("weight = 7")));

        HttpResponse<String> paused = site.send("POST", "/runs/" + run + "/pause", "");
        HttpResponse<String> watched = site.send("GET", "/runs/" + run + "/events", "");
        long before = database.count("reading");
        HttpResponse<String> resumed = site.send("POST", "/runs/" + run + "/resume", "");
        BulkRun done = ended(run);
        HttpResponse<String> late = site.send("POST", "/runs/" + run + "/cancel", "");

        assertThat(json(paused).get("state").asString()).isEqualTo("paused");
        assertThat(watched.body()).startsWith("event: paused\ndata: {");
        assertThat(before).isEqualTo(READINGS + 1L);
        assertThat(json(resumed).get("state").asString()).isEqualTo("running");
        assertThat(done.done()).isEqualTo(READINGS);
        assertThat(late.statusCode()).isEqualTo(409);
        assertThat(database.count("reading")).isEqualTo(1);
    }

    @Test
    void onlySoManyWatchAtOnceAndAHeadDoesNotWait() throws Exception {
        String run = startedOf(Selection.of("reading").where(Criteria.parse("weight = 7")));
        List<CompletableFuture<HttpResponse<InputStream>>> watchers = new ArrayList<>();
        for (int i = 0; i < 20; i++) {
            watchers.add(site.open("/runs/" + run + "/events", "keeper" + i / 5));
        }
        for (CompletableFuture<HttpResponse<InputStream>> watcher : watchers) {
            assertThat(watcher.get(30, TimeUnit.SECONDS).statusCode()).isEqualTo(200);
        }

        HttpResponse<String> head = site.send("HEAD", "/runs/" + run, "");
        HttpResponse<String> waiting = site.send("HEAD", "/runs/" + run + "/events", "");
        HttpResponse<String> late = site.send("GET", "/runs/" + run + "/events", "");
        HttpResponse<String> greedy = site.send("GET", "/runs/" + run + "/events", "", "X-User", "keeper0");
        site.send("POST", "/runs/" + run + "/cancel", "");
        for (CompletableFuture<HttpResponse<InputStream>> watcher : watchers) {
            assertThat(new String(watcher.get().body().readAllBytes(), StandardCharsets.UTF_8))
                    .startsWith("event: progress\n")
                    .contains("event: cancelled\n");
        }

        assertThat(List.of(head.statusCode(), waiting.statusCode())).containsOnly(200);
        assertThat(late.statusCode()).isEqualTo(503);
        assertThat(greedy.statusCode()).isEqualTo(429);
        assertThat(late.headers().firstValue("Retry-After")).hasValue("5");
        assertThat(site.send("GET", "/runs/" + run + "/events", "").statusCode())
                .isEqualTo(200);
    }

    private String startedOf(Selection selection) {
        return vacancy.bulk()
                .start(approved(vacancy.plan(selection, By.user("odile"))), BulkOptions.defaults())
                .runId()
                .toString();
    }

    @Test
    void runsAreForThoseWhoMayAndOfTablesThatAreOffered() throws Exception {
        String secret = startedOf(Selection.of("secret").key(1));
        HttpResponse<String> asked =
                site.send("POST", "/reading/deletions", "{\"where\": \"weight = 7\"}", "X-User", "guest");

        assertThat(site.send("GET", "/runs/" + secret, "").statusCode()).isEqualTo(404);
        assertThat(site.send("POST", "/runs/" + secret + "/cancel", "").statusCode())
                .isEqualTo(404);
        assertThat(site.send("GET", "/runs/" + secret + "/events", "").statusCode())
                .isEqualTo(404);
        assertThat(json(site.send("GET", "/runs", ""))).isEmpty();
        assertThat(agree(asked, "3000", "X-User", "guest").statusCode()).isEqualTo(403);
        assertThat(site.send("POST", "/runs/" + secret + "/pause", "", "Sec-Fetch-Site", "cross-site")
                        .statusCode())
                .isEqualTo(403);
        assertThat(database.count("reading")).isEqualTo(READINGS + 1L);
    }

    private static Approval approved(Plan plan) {
        Question question = Question.aboutChunks(plan);
        return question.answer(question.typed().orElse("yes")).orElseThrow();
    }

    /** A process that began a run and died: another one that is there goes on with it. */
    @Test
    void aRunThatHasLostItsWorkerIsTakenOver() throws Exception {
        BulkRun run = begin(BulkOptions.defaults());
        vacancy.bulk().workChunk(run.runId(), BulkOptions.defaults().chunk(10), Exemption.none(), progress -> {});
        HttpResponse<String> idle = site.send("GET", "/runs/" + run.runId(), "");
        Site other = Site.of(
                vacancy,
                List.of("reading"),
                (by, act, table) -> true,
                WebOptions.defaults().takingOverAfter(Duration.ofMillis(200)));
        try {
            await().atMost(Duration.ofSeconds(30))
                    .until(() -> vacancy.bulk().run(run.runId()).state() == BulkState.DONE);
        } finally {
            other.stop();
        }

        assertThat(json(idle).get("state").asString()).isEqualTo("running");
        assertThat(json(idle).get("done").asInt()).isEqualTo(10);
        assertThat(Instant.parse(json(idle).get("workedAt").asString()))
                .isAfter(Instant.parse(json(idle).get("startedAt").asString()));
        assertThat(database.count("reading")).isEqualTo(1);
    }

    /** What only those can go on with who have its exemption is left to them. */
    @Test
    void aRunWithAnExemptionIsNotTakenOver() throws Exception {
        Plan plan = vacancy.plan(Selection.of("reading").where(Criteria.parse("weight = 7")), By.user("tam"));
        BulkRun run = vacancy.bulk()
                .start(
                        Question.aboutChunks(plan)
                                .answer(String.valueOf(READINGS))
                                .orElseThrow(),
                        BulkOptions.defaults()
                                .exempting(Exemption.named("winter", (record, connection) -> Optional.empty())));
        Site other = Site.of(
                vacancy,
                List.of("reading"),
                (by, act, table) -> true,
                WebOptions.defaults().takingOverAfter(Duration.ofMillis(50)));
        try {
            await().during(Duration.ofMillis(400))
                    .until(() -> vacancy.bulk().run(run.runId()).done() == 0);
        } finally {
            other.stop();
        }

        assertThat(vacancy.bulk().run(run.runId()).idle(Instant.now())).isGreaterThan(Duration.ofMillis(300));
    }

    private BulkRun begin(BulkOptions options) {
        Plan plan = vacancy.plan(Selection.of("reading").where(Criteria.parse("weight = 7")), By.user("tam"));
        return vacancy.bulk()
                .start(
                        Question.aboutChunks(plan)
                                .answer(String.valueOf(READINGS))
                                .orElseThrow(),
                        options);
    }
}
