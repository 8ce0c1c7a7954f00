package dev.vacancy.web;

import static dev.vacancy.web.Responses.json;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.Permissions;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.net.http.HttpResponse;
import java.sql.Connection;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Whatever comes in over HTTP is answered in the form that its standards have, and tells nothing that isn't offered. */
class StrangersTest {
    private static final Permissions ALL = (by, act, table) -> true;

    private Database database;
    private Vacancy vacancy;
    private Site site;

    @BeforeEach
    void start() throws Exception {
        database = Engine.H2
                .database()
                .run(
                        "create table secret_ledger (ledger_id integer primary key, sum_total integer)",
                        "create table hive (hive_id integer primary key, name varchar(40), ledger_id integer,"
                                + " foreign key (ledger_id) references secret_ledger (ledger_id))",
                        "create table jar (shelf varchar(20), label varchar(20), primary key (shelf, label))",
                        "create table queen (queen_id integer primary key, name varchar(40))",
                        "insert into secret_ledger values (1, 700)",
                        "insert into hive values (1, 'Fen One', 1), (2, 'Fen Two', 1), (3, 'Fen Three', null)",
                        "insert into jar values ('a,b', 'x/y'), ('a', 'b'), ('ü;v', '\\ 100%')",
                        "insert into queen values (1, 'Elowen')");
        vacancy = Vacancy.over(
                database.source(),
                RuleBook.bySchema()
                        .consent("queen", ConsentRule.atLeast(Consent.YES).withColleague()));
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        site = Site.of(vacancy, List.of("hive", "jar", "queen"), ALL, WebOptions.defaults());
    }

    @AfterEach
    void stop() throws Exception {
        site.stop();
    }

    private static String header(HttpResponse<String> response, String name) {
        return response.headers().firstValue(name).orElse("");
    }

    /** A problem detail that names no class, no statement and no table that isn't offered. */
    private static void assertProblem(HttpResponse<String> response, int status, String code) {
        assertThat(response.statusCode()).as(response.body()).isEqualTo(status);
        assertThat(header(response, "Content-Type")).startsWith("application/problem+json");
        assertThat(json(response).get("type").asString()).isEqualTo("urn:vacancy:problem:" + code);
        assertThat(json(response).get("instance").asString()).startsWith("urn:uuid:");
        assertThat(response.body().toLowerCase(java.util.Locale.ROOT))
                .doesNotContain("exception", "dev.vacancy", "select ", "secret_ledger", "sum_total");
    }

    @Test
    void whatIsNoContentIsAProblemOfTheClient() throws Exception {
        for (String body : List.of(
                "null",
                "[1]",
                "7",
                "{",
                "",
                "{\"keys\": null}",
                "{\"where\": 7}",
                "{\"where\": \"hive_id = 1\", \"where\": \"hive_id > 0\"}",
                "{\"keys\": [1], \"approval\": 7}")) {
            assertProblem(site.send("POST", "/hive/deletions", body), 400, "usage");
        }
        String deep = "{\"where\": \"" + "not ".repeat(2_400) + "hive_id = 1\"}";
        String many = IntStream.range(0, 100_000).mapToObj(String::valueOf).collect(Collectors.joining(","));

        assertProblem(site.send("POST", "/hive/deletions", deep), 400, "criteria-syntax");
        assertProblem(
                site.send("POST", "/hive/deletions", "{\"where\": \"hive_id in (" + many + ")\"}"),
                400,
                "criteria-syntax");
        assertThat(database.count("hive")).isEqualTo(3);
    }

    @Test
    void theSchemaIsNotToldToStrangers() throws Exception {
        assertProblem(site.send("GET", "/hive/1/deletion?reassign=x=1", ""), 400, "unknown-link");
        assertProblem(site.send("POST", "/hive/deletions", "{\"where\": \"secret = 1\"}"), 400, "unknown-column");
        assertProblem(
                site.send("POST", "/hive/deletions", "{\"where\": \"ledger_id.secret = 1\"}"), 400, "unknown-column");
        assertProblem(site.send("GET", "/secret_ledger/1/deletion", ""), 404, "not-found");
    }

    @Test
    void aTableThatIsNotThereIsToldWhenTheServletIsMade() {
        assertThatThrownBy(() -> Site.of(vacancy, List.of("hive", "hvie"), ALL, WebOptions.defaults()))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("hvie");
    }

    @Test
    void methodsAreToldAndNothingOfARequestComesBack() throws Exception {
        HttpResponse<String> put = site.send("PUT", "/hive/1", "");
        HttpResponse<String> trace = site.send("TRACE", "/hive/1", "", "Authorization", "Bearer secret-word");
        HttpResponse<String> options = site.send("OPTIONS", "/hive/deletions", "");

        assertProblem(put, 405, "method-not-allowed");
        assertThat(header(put, "Allow")).isEqualTo("DELETE, OPTIONS");
        assertThat(trace.statusCode()).isEqualTo(405);
        assertThat(trace.body()).doesNotContain("secret-word");
        assertThat(options.statusCode()).isEqualTo(204);
        assertThat(header(options, "Allow")).isEqualTo("DELETE, OPTIONS, POST");
        assertProblem(site.send("GET", "/hive/1/deletion/further", ""), 404, "not-found");
    }

    @Test
    void contentIsNegotiated() throws Exception {
        HttpResponse<String> html = site.send("GET", "/hive/1/deletion", "", "Accept", "text/html, image/*;q=0.5");
        HttpResponse<String> any = site.send("GET", "/hive/1/deletion", "", "Accept", "text/html, */*;q=0.1");
        HttpResponse<String> none = site.send("GET", "/hive/1/deletion", "", "Accept", "application/json;q=0");
        HttpResponse<String> form =
                site.send("POST", "/hive/deletions", "keys=1", "Content-Type", "application/x-www-form-urlencoded");

        assertProblem(html, 406, "not-acceptable");
        assertProblem(none, 406, "not-acceptable");
        assertThat(any.statusCode()).isEqualTo(200);
        assertThat(header(any, "Vary")).contains("Accept-Language");
        assertProblem(form, 415, "usage");
        assertThat(header(form, "Accept")).isEqualTo("application/json");
    }

    @Test
    void tagsDifferWithWhatIsTold() throws Exception {
        HttpResponse<String> english = site.send("GET", "/hive/3/deletion", "", "Accept-Language", "en");
        HttpResponse<String> german = site.send("GET", "/hive/3/deletion", "", "Accept-Language", "de");

        assertThat(header(german, "ETag")).isNotEqualTo(header(english, "ETag"));
        assertThat(header(german, "Vacancy-Fingerprint")).isEqualTo(header(english, "Vacancy-Fingerprint"));
        assertThat(site.send("DELETE", "/hive/3", "", "If-Match", header(german, "ETag"))
                        .statusCode())
                .isEqualTo(204);
    }

    @Test
    void preferencesAreReadAsTheyAreWritten() throws Exception {
        List<String> written = List.of(
                "Return = \"representation\"; x=1, wait=10",
                "respond-async, return=representation",
                "return=minimal",
                "x=\"return=representation\"");
        List<HttpResponse<String>> responses = new ArrayList<>();
        for (int i = 0; i < written.size(); i++) {
            database.run("insert into hive values (" + (10 + i) + ", 'Fen', null)");
            String fingerprint = header(site.send("GET", "/hive/" + (10 + i) + "/deletion", ""), "Vacancy-Fingerprint");
            responses.add(site.send(
                    "DELETE", "/hive/" + (10 + i), "", "Vacancy-Fingerprint", fingerprint, "Prefer", written.get(i)));
        }

        assertThat(responses).extracting(HttpResponse::statusCode).containsExactly(200, 200, 204, 204);
        assertThat(header(responses.get(0), "Preference-Applied")).isEqualTo("return=representation");
        assertThat(header(responses.get(2), "Preference-Applied")).isEmpty();
    }

    @Test
    void aMissingColleagueIsNoMissingPrecondition() throws Exception {
        HttpResponse<String> plan = site.send("GET", "/queen/1/deletion", "");

        HttpResponse<String> nobody = site.send("DELETE", "/queen/1", "");
        HttpResponse<String> alone = site.send("DELETE", "/queen/1", "", "If-Match", header(plan, "ETag"));
        HttpResponse<String> again = site.send("DELETE", "/queen/1", "", "If-Match", header(plan, "ETag"));

        assertProblem(nobody, 428, "no-approval");
        assertProblem(alone, 409, "no-colleague");
        assertThat(json(again).get("title")).isEqualTo(json(alone).get("title"));
        assertThat(json(again).get("instance")).isNotEqualTo(json(alone).get("instance"));
    }

    /** Keys with whatever is in them: by the path as far as one carries it, and else by the query. */
    @Test
    void everyKeyHasAnAddress() throws Exception {
        HttpResponse<String> comma = site.send("GET", "/jar/a,b/deletion", "");
        HttpResponse<String> slash = site.send("GET", "/jar/-/deletion?key=a%2Cb&key=x%2Fy", "");
        HttpResponse<String> odd = site.send("GET", "/jar/-/deletion?key=%C3%BC%3Bv&key=%5C%20100%25", "");

        assertThat(json(comma).get("records").get(0).get("label").asString()).isEqualTo("b");
        assertThat(json(slash).get("records").get(0).get("label").asString()).isEqualTo("x/y");
        assertThat(json(odd).get("records").get(0).get("shelf").asString()).isEqualTo("ü;v");
        assertThat(site.send("DELETE", "/jar/-?key=a%2Cb&key=x%2Fy", "", "If-Match", header(slash, "ETag"))
                        .statusCode())
                .isEqualTo(204);
        assertThat(database.count("jar")).isEqualTo(2);
        assertThat(site.send("GET", "/HIVE/1/deletion", "").statusCode())
                .as("a name in other letters")
                .isEqualTo(200);
    }

    @Test
    void whoIsNotKnownIsChallengedAsTheApplicationSays() throws Exception {
        Site own =
                Site.of(vacancy, List.of("hive"), ALL, WebOptions.defaults().challenging("Bearer realm=\"larkmoor\""));
        try {
            assertThat(header(own.send("GET", "/hive/1/deletion", "", "X-User", ""), "WWW-Authenticate"))
                    .isEqualTo("Bearer realm=\"larkmoor\"");
            assertThat(header(site.send("GET", "/hive/1/deletion", "", "X-User", ""), "WWW-Authenticate"))
                    .isNotEmpty()
                    .doesNotContain("Basic");
        } finally {
            own.stop();
        }
    }

    @Test
    void whatTheApplicationThrowsIsToldInTheLogOnly() throws Exception {
        Site broken = Site.of(
                vacancy,
                List.of("hive"),
                request -> {
                    throw new IllegalStateException("select password from dev.vacancy");
                },
                ALL,
                WebOptions.defaults());
        try {
            assertProblem(broken.send("GET", "/hive/1/deletion", ""), 500, "internal");
        } finally {
            broken.stop();
        }
    }

    @Test
    void aDatabaseThatIsGoneIsToldWithoutItsWords() throws Exception {
        database.run("shutdown immediately");

        HttpResponse<String> gone = site.send("GET", "/hive/1/deletion", "");

        assertThat(gone.statusCode()).isIn(500, 503);
        assertProblem(gone, gone.statusCode(), "database");
    }

    @Test
    void nobodyPushesOutWhatOthersLookAt() throws Exception {
        HttpResponse<String> una = site.send("POST", "/hive/deletions", "{\"keys\": [1]}", "X-User", "una");
        List<String> own = new ArrayList<>();
        for (int i = 0; i < 60; i++) {
            own.add(header(site.send("POST", "/hive/deletions", "{\"keys\": [2]}"), "Location"));
        }

        assertThat(site.send("GET", header(una, "Location"), "", "X-User", "una")
                        .statusCode())
                .isEqualTo(200);
        assertProblem(site.send("GET", own.get(0), ""), 404, "not-found");
        assertThat(json(site.send("GET", own.get(0), "")).get("detail").asString())
                .contains("the last 50 of a person are kept");
        assertThat(site.send("GET", own.get(59), "").statusCode()).isEqualTo(200);
    }

    @Test
    void aRefusalByTheDatabasesOwnConstraintIsAConflict() throws Exception {
        Vacancy blind = Vacancy.over(database.source());
        database.run(
                "create table swarm (swarm_id integer primary key, hive_id integer references hive (hive_id))",
                "insert into swarm values (1, 3)");
        Site unaware = Site.of(blind, List.of("hive"), ALL, WebOptions.defaults());
        try {
            HttpResponse<String> plan = unaware.send("GET", "/hive/3/deletion", "");

            HttpResponse<String> refused = unaware.send("DELETE", "/hive/3", "", "If-Match", header(plan, "ETag"));

            assertProblem(refused, 409, "constraint");
            assertThat(database.count("hive")).isEqualTo(3);
        } finally {
            unaware.stop();
        }
    }

    /** A browser says where its page is from; behind a proxy that is another scheme, host and port than the container listens at. */
    @Test
    void aPageOfThisSiteIsKnownBehindAProxy() throws Exception {
        String[] proxy = {"X-Forwarded-Proto", "https", "X-Forwarded-Host", "larkmoor.example"};
        HttpResponse<String> own = asked("https://larkmoor.example", proxy);
        HttpResponse<String> ownPort = asked("https://larkmoor.example:443", proxy);
        HttpResponse<String> plain = asked("http://larkmoor.example", proxy);
        HttpResponse<String> otherPort = asked("https://larkmoor.example:8443", proxy);
        HttpResponse<String> other = asked("https://elsewhere.example", proxy);
        HttpResponse<String> nothing = asked("null", proxy);

        assertThat(own.statusCode()).isEqualTo(428);
        assertThat(ownPort.statusCode()).isEqualTo(428);
        for (HttpResponse<String> refused : List.of(plain, otherPort, other, nothing)) {
            assertProblem(refused, 403, "cross-site");
        }
        assertThat(database.count("hive")).isEqualTo(3);
    }

    private HttpResponse<String> asked(String origin, String... proxy) throws Exception {
        return site.send(
                "DELETE",
                "/hive/3",
                "",
                Stream.concat(Stream.of("Origin", origin), Stream.of(proxy)).toArray(String[]::new));
    }

    @Test
    void whoMeetsALockIsToldWhenToTryAgain() throws Exception {
        String tag = header(site.send("GET", "/hive/3/deletion", ""), "ETag");
        try (Connection holding = database.source().getConnection();
                Statement statement = holding.createStatement()) {
            holding.setAutoCommit(false);
            statement.execute("select * from hive where hive_id = 3 for update");
            HttpResponse<String> held = site.send("DELETE", "/hive/3", "", "If-Match", tag);

            assertProblem(held, 423, "locked");
            assertThat(header(held, "Retry-After")).isEqualTo("1");
            holding.rollback();
        }
        assertThat(site.send("DELETE", "/hive/3", "", "If-Match", tag).statusCode())
                .isEqualTo(204);
    }
}
