package dev.vacancy.web;

import static dev.vacancy.web.Responses.json;
import static dev.vacancy.web.Responses.location;
import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.approvals.Approvals;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.wording.Wording;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.ListResourceBundle;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Plans are resources, and what is posted to them is agreed to once, by whom and as hard as the rules want it. */
class PlanResourceTest {
    private static final ApprovalKeys KEYS =
            ApprovalKeys.signingWith("november", "a made-up secret of 32 bytes, yes".getBytes(StandardCharsets.UTF_8));

    private final Database database = Engine.H2.database();
    private Vacancy vacancy;
    private Site site;

    @BeforeEach
    void start() throws Exception {
        database.run(
                "create table hive (hive_id integer primary key, name varchar(40))",
                "create table reading (reading_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "create table keeper (keeper_id integer primary key, name varchar(40))",
                "create table photo (photo_id integer primary key, keeper_id integer,"
                        + " foreign key (keeper_id) references keeper (keeper_id))",
                "insert into hive values (1, 'Fellside'), (2, 'Bramble'), (3, 'Larkmoor')",
                "insert into reading values (10, 1), (11, 1), (12, 2)",
                "insert into keeper values (1, 'Odile'), (2, 'Una')",
                "insert into photo values (1, 1)");
        RuleBook rules = RuleBook.bySchema()
                .on("photo.keeper_id", Clause.detach())
                .consent("hive", ConsentRule.atLeast(Consent.NUMBER))
                .consent("keeper", ConsentRule.atLeast(Consent.YES).withColleague())
                .trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        vacancy = Vacancy.over(database.source(), rules);
        Ddl.of(database.source(), Ddl.Part.APPROVALS).apply();
        site = Site.of(
                vacancy,
                List.of("hive", "keeper"),
                (by, act, table) -> true,
                WebOptions.defaults().signing(KEYS));
    }

    @AfterEach
    void stop() throws Exception {
        site.stop();
    }

    private HttpResponse<String> ask(String table, String keys) throws Exception {
        return site.send("POST", "/" + table + "/deletions", "{\"keys\": [" + keys + "]}");
    }

    private static String sending(Map<String, Object> content) {
        return JsonMapper.shared().writeValueAsString(content);
    }

    @Test
    void whatIsAskedAboutIsThereAndIsRunWhenItIsAgreedTo() throws Exception {
        HttpResponse<String> asked = ask("hive", "1, 2");
        String tag = asked.headers().firstValue("ETag").orElseThrow();
        HttpResponse<String> again = site.send("GET", location(asked), "");
        String approval = location(asked) + "/approval";

        HttpResponse<String> blind = site.send("POST", approval, "{\"answer\": \"5\"}");
        HttpResponse<String> mute = site.send("POST", approval, "{}", "If-Match", tag);
        HttpResponse<String> wrong = site.send("POST", approval, "{\"answer\": 4}", "If-Match", tag);
        HttpResponse<String> right =
                site.send("POST", approval, "{\"answer\": 5}", "If-Match", tag, "Prefer", "return=representation");

        assertThat(asked.statusCode()).isEqualTo(201);
        assertThat(json(again).get("fingerprint")).isEqualTo(json(asked).get("fingerprint"));
        assertThat(json(asked).get("typed").asString()).isEqualTo("5");
        assertThat(List.of(blind.statusCode(), mute.statusCode(), wrong.statusCode()))
                .containsExactly(428, 409, 409);
        assertThat(json(right).get("counts").get("reading").asInt()).isEqualTo(3);
        assertThat(database.count("hive")).isEqualTo(1);
    }

    @Test
    void aSignedApprovalDeletesOnceHoweverOftenItIsSent() throws Exception {
        HttpResponse<String> asked = ask("hive", "1");
        String content = sending(Map.of("approval", json(asked).get("approval").asString(), "answer", 3));

        HttpResponse<String> first = site.send("POST", location(asked) + "/approval", content);
        database.run("insert into hive values (1, 'Fellside again')");
        HttpResponse<String> second = site.send("POST", location(asked) + "/approval", content);
        HttpResponse<String> stolen = site.send("POST", location(asked) + "/approval", content, "X-User", "somebody");

        assertThat(json(first).get("repeated").asBoolean()).isFalse();
        assertThat(json(second).get("repeated").asBoolean()).isTrue();
        assertThat(json(second).get("run")).isEqualTo(json(first).get("run"));
        assertThat(stolen.statusCode()).isEqualTo(403);
        assertThat(json(stolen).get("type").asString()).isEqualTo("urn:vacancy:problem:approval-of-another");
        assertThat(database.rows("select name from hive where hive_id = 1")).containsExactly("Fellside again");
    }

    @Test
    void whatWasForgedOrIsStaleOrOfAnotherIsRefused() throws Exception {
        HttpResponse<String> asked = ask("hive", "1");
        String other = json(ask("hive", "2")).get("approval").asString();
        String own = json(asked).get("approval").asString();
        String old = Approvals.of(vacancy, KEYS.lasting(Duration.ofNanos(1)))
                .issue(vacancy.plan(Selection.of("hive").key(1), By.user("odile")));
        String approval = location(asked) + "/approval";

        HttpResponse<String> forged = site.send("POST", approval, sending(Map.of("approval", own + "x", "answer", 3)));
        HttpResponse<String> swapped = site.send("POST", approval, sending(Map.of("approval", other, "answer", 3)));
        HttpResponse<String> expired = site.send("POST", approval, sending(Map.of("approval", old, "answer", 3)));
        database.run("insert into reading values (13, 1)");
        HttpResponse<String> stale = site.send("POST", approval, sending(Map.of("approval", own, "answer", 3)));

        assertThat(List.of(forged.statusCode(), swapped.statusCode(), expired.statusCode()))
                .containsOnly(403);
        assertThat(json(expired).get("type").asString()).isEqualTo("urn:vacancy:problem:approval-expired");
        assertThat(stale.statusCode()).isEqualTo(412);
        assertThat(json(stale).get("differences").get(0).asString()).isEqualTo("1 more of reading");
        assertThat(database.count("hive")).isEqualTo(3);
    }

    @Test
    void aColleagueAgreesAtTheSameAddress() throws Exception {
        HttpResponse<String> asked = ask("keeper", "1");
        String own = json(asked).get("approval").asString();
        String agreement = location(asked) + "/agreement";
        String approval = location(asked) + "/approval";

        HttpResponse<String> alone = site.send("POST", approval, sending(Map.of("approval", own)));
        HttpResponse<String> same = site.send("POST", agreement, sending(Map.of("approval", own)));
        HttpResponse<String> una = site.send("POST", agreement, sending(Map.of("approval", own)), "X-User", "una");
        HttpResponse<String> both = site.send(
                "POST",
                approval,
                sending(Map.of("approval", json(una).get("approval").asString())));

        assertThat(json(asked).get("colleague").asBoolean()).isTrue();
        assertThat(List.of(alone.statusCode(), same.statusCode())).containsOnly(409);
        assertThat(both.statusCode()).isEqualTo(200);
        assertThat(json(both).get("changed").get("photo.keeper_id").asInt()).isEqualTo(1);
        assertThat(database.count("keeper")).isEqualTo(1);
    }

    @Test
    void questionsAreInALanguageThatTheReaderAccepts() throws Exception {
        HttpResponse<String> german =
                site.send("GET", "/keeper/1/deletion", "", "Accept-Language", "fr, de-AT;q=0.8, en;q=0.5");
        HttpResponse<String> english = site.send("GET", "/keeper/1/deletion", "");

        assertThat(json(german).get("question").asString()).isEqualTo("keeper 1 'Odile' löschen?");
        assertThat(json(german).get("survivors").get(0).asString())
                .isEqualTo("1 Datensatz aus photo bleibt: photo.keeper_id wird null");
        assertThat(german.headers().firstValue("Content-Language")).hasValue("de-AT");
        assertThat(json(english).get("question").asString()).isEqualTo("Delete keeper 1 'Odile'?");
    }

    @Test
    void refusalsAndTheDialogAreInALanguageThatTheReaderAcceptsToo() throws Exception {
        HttpResponse<String> nobody = site.send("GET", "/keeper/99/deletion", "", "Accept-Language", "de");
        HttpResponse<String> words = site.send("GET", "/words", "", "Accept-Language", "de-CH", "X-User", "");

        assertThat(nobody.statusCode()).isEqualTo(404);
        assertThat(json(nobody).get("title").asString())
                .isEqualTo("Das gibt es nicht. Sehen Sie noch einmal in die Liste.");
        assertThat(json(nobody).get("detail").asString()).isEqualTo("There is no such record of keeper.");
        assertThat(nobody.headers().firstValue("Content-Language")).hasValue("de");
        assertThat(json(words).get("no").asString()).isEqualTo("Behalten");
        assertThat(json(words).get("deleted.other").asString()).isEqualTo("{0} Datensätze wurden gelöscht.");
        assertThat(words.headers().firstValue("Content-Language")).hasValue("de-CH");
        assertThat(words.headers().firstValue("Vary")).hasValue("Accept-Language");
    }

    @Test
    void anApplicationReplacesTheWordsOfThePages() throws Exception {
        Wording own = Wording.of(new ListResourceBundle() {
            @Override
            protected Object[][] getContents() {
                return new Object[][] {{"dialog.no", "Leave it"}, {"failure.not-found", "No such bees."}};
            }
        });
        Site speaking = Site.of(
                vacancy,
                List.of("keeper"),
                (by, act, table) -> true,
                WebOptions.defaults().speaking(languages -> own));
        try {
            JsonNode words = json(speaking.send("GET", "/words", ""));

            assertThat(List.of(words.get("no").asString(), words.get("yes").asString()))
                    .containsExactly("Leave it", "Delete");
            assertThat(json(speaking.send("GET", "/keeper/99/deletion", ""))
                            .get("title")
                            .asString())
                    .isEqualTo("No such bees.");
        } finally {
            speaking.stop();
        }
    }

    @Test
    void pagesOfOtherSitesAndTheirFormsChangeNothing() throws Exception {
        HttpResponse<String> asked = ask("hive", "1");
        String tag = asked.headers().firstValue("ETag").orElseThrow();
        String content = "{\"answer\": 3}";
        String approval = location(asked) + "/approval";
        String own = site.address().replaceAll("(http://[^/]+).*", "$1");

        HttpResponse<String> script =
                site.send("POST", approval, content, "If-Match", tag, "Sec-Fetch-Site", "cross-site", "Origin", own);
        HttpResponse<String> sibling =
                site.send("DELETE", "/hive/1", "", "If-Match", tag, "Sec-Fetch-Site", "same-site");
        HttpResponse<String> older =
                site.send("DELETE", "/hive/1", "", "If-Match", tag, "Origin", "https://elsewhere.example");
        HttpResponse<String> nowhere = site.send("DELETE", "/hive/1", "", "If-Match", tag, "Origin", "null");
        HttpResponse<String> form = site.send(
                "POST", approval, content, "If-Match", tag, "Content-Type", "text/plain", "Sec-Fetch-Site", "none");

        assertThat(List.of(script.statusCode(), sibling.statusCode(), older.statusCode(), nowhere.statusCode()))
                .containsOnly(403);
        assertThat(form.statusCode()).isEqualTo(415);
        assertThat(database.count("hive")).isEqualTo(3);
        assertThat(site.send("POST", approval, content, "If-Match", tag, "Sec-Fetch-Site", "same-origin", "Origin", own)
                        .statusCode())
                .isEqualTo(204);
    }

    @Test
    void whatNobodyAskedAboutIsNotThere() throws Exception {
        String location = location(ask("hive", "1"));

        assertThat(site.send("GET", location.replace("/hive/", "/keeper/"), "").statusCode())
                .isEqualTo(404);
        assertThat(site.send("GET", "/hive/deletions/5e0c6b1e-0000-4000-8000-000000000000", "")
                        .statusCode())
                .isEqualTo(404);
        assertThat(site.send("POST", "/hive/deletions/nothing/approval", "{}").statusCode())
                .isEqualTo(404);
    }

    /** Whoever asks about very many records again and again doesn't fill the memory. */
    @Test
    void ofVeryLargeRequestsTheLatestAreHeld() throws Exception {
        String many = IntStream.range(0, 120_000).mapToObj(String::valueOf).collect(Collectors.joining(","));
        String small = location(ask("hive", "3"));
        String first = location(ask("hive", many));
        String second = location(ask("hive", many));

        assertThat(site.send("GET", small, "").statusCode()).isEqualTo(404);
        assertThat(site.send("GET", first, "").statusCode()).isEqualTo(404);
        assertThat(site.send("GET", second, "").statusCode()).isEqualTo(200);
    }

    @Test
    void theElementForPagesIsServedToEverybody() throws Exception {
        HttpResponse<String> element = site.send("GET", "/deletion.js", "", "X-User", "");

        assertThat(element.statusCode()).isEqualTo(200);
        assertThat(element.headers().firstValue("Content-Type"))
                .hasValueSatisfying(type -> assertThat(type).startsWith("text/javascript"));
        assertThat(element.body()).contains("customElements.define(\"vacancy-deletion\"");
    }
}
