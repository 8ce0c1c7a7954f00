package dev.vacancy.web;

import static dev.vacancy.web.Responses.encoded;
import static dev.vacancy.web.Responses.fingerprint;
import static dev.vacancy.web.Responses.json;
import static dev.vacancy.web.Responses.tag;
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
import java.net.http.HttpResponse;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/** What is agreed to over HTTP is one thing, and it is that which happens. */
class AgreedOverHttpTest {
    private static final ApprovalKeys KEYS = ApprovalKeys.signingWith("one", new byte[32]);

    private final Database database = Engine.H2.database();
    private final RuleBook rules = RuleBook.bySchema()
            .on("inspection.keeper_id", Clause.reassign())
            .on("reading.hive_id", Clause.cascade())
            .ignoringChangesIn("reading")
            .consent("queen", ConsentRule.atLeast(Consent.LABEL))
            .consent("jar", ConsentRule.atLeast(Consent.NONE))
            .trail(Trail.defaults());
    private Vacancy vacancy;
    private Site site;

    @BeforeEach
    void start() throws Exception {
        database.run(
                "create table hive (hive_id integer primary key, name varchar(40))",
                "create table reading (reading_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id))",
                "create table keeper (keeper_id integer primary key, name varchar(40))",
                "create table inspection (inspection_id integer primary key, keeper_id integer,"
                        + " foreign key (keeper_id) references keeper (keeper_id))",
                "create table queen (queen_id integer primary key, name varchar(40))",
                "create table jar (a varchar(9), b varchar(9), primary key (a, b))",
                "create table scale (scale_id decimal(25, 2) primary key)",
                "insert into keeper values (5, 'Odile'), (7, 'Una'), (8, 'Tam')",
                "insert into inspection values (1, 5), (2, 5)",
                "insert into queen values (1, 'Elowen (über)'), (2, 'Bryony')",
                "insert into jar values ('a, b', 'c'), ('a', 'b'), ('x', 'y')",
                "insert into scale values (12345678901234567.89), (12345678901234568.00), (9007199254740993), (9007199254740992)");
        for (int id = 1; id <= 140; id++) {
            database.run("insert into hive values (" + id + ", 'Hive " + id + "')");
            database.run("insert into reading values (" + (1000 + id) + ", " + id + ")");
        }
        Ddl.of(database.source(), rules).apply();
        vacancy = Vacancy.over(database.source(), rules);
        Ddl.of(database.source(), Ddl.Part.APPROVALS).apply();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        site = on(vacancy, WebOptions.defaults().signing(KEYS));
    }

    private static Site on(Vacancy vacancy, WebOptions options) throws Exception {
        return Site.of(
                vacancy,
                List.of("hive", "reading", "keeper", "queen", "jar", "scale"),
                (by, act, table) -> true,
                options);
    }

    @AfterEach
    void stop() throws Exception {
        site.stop();
    }

    private static String keys(int from, int to) {
        StringBuilder keys = new StringBuilder("{\"keys\": [" + from);
        for (int key = from + 1; key <= to; key++) {
            keys.append(", ").append(key);
        }
        return keys.append("]}").toString();
    }

    @Test
    void theTagOfOneListIsNothingForAnother() throws Exception {
        HttpResponse<String> first = site.send("POST", "/hive/deletions", keys(1, 30));
        site.send("POST", "/hive/deletions", keys(101, 130));
        List<String> before = database.contents("hive");

        HttpResponse<String> other = site.send("POST", "/hive/deletions", keys(101, 130), "If-Match", tag(first));

        assertThat(other.statusCode()).isEqualTo(412);
        assertThat(database.contents("hive")).isEqualTo(before);
        assertThat(site.send("POST", "/hive/deletions", keys(1, 30), "If-Match", tag(first))
                        .statusCode())
                .isEqualTo(204);
        assertThat(database.count("hive")).isEqualTo(110);
    }

    @Test
    void theTagOfOneNewParentIsNothingForAnother() throws Exception {
        HttpResponse<String> toUna = site.send("GET", "/keeper/5/deletion?reassign=inspection.keeper_id=7", "");

        HttpResponse<String> toTam =
                site.send("DELETE", "/keeper/5?reassign=inspection.keeper_id=8", "", "If-Match", tag(toUna));

        assertThat(toTam.statusCode()).isEqualTo(412);
        assertThat(database.rows("select distinct keeper_id from inspection")).containsExactly("5");
    }

    @Test
    void keysThatReadAlikeAreNotTheSame() throws Exception {
        HttpResponse<String> one = site.send("POST", "/jar/deletions", "{\"keys\": [[\"a, b\", \"c\"]]}");
        HttpResponse<String> two =
                site.send("POST", "/jar/deletions", "{\"keys\": [[\"a\", \"b\"]]}", "If-Match", tag(one));

        assertThat(two.statusCode()).isEqualTo(412);
        assertThat(database.count("jar")).isEqualTo(3);
    }

    @Test
    void whereATableNeverStandsStillTheTagIsOfOneRecordAllTheSame() throws Exception {
        HttpResponse<String> one = site.send("GET", "/reading/1103/deletion", "");

        HttpResponse<String> other = site.send("DELETE", "/reading/1104", "", "If-Match", tag(one));

        assertThat(other.statusCode()).isEqualTo(412);
        assertThat(tag(site.send("GET", "/reading/1104/deletion", ""))).isNotEqualTo(tag(one));
        assertThat(database.count("reading")).isEqualTo(140);
        database.run("update reading set hive_id = 2 where reading_id = 1103");
        assertThat(site.send("DELETE", "/reading/1103", "", "If-Match", tag(one))
                        .statusCode())
                .as("what never stands still may have changed")
                .isEqualTo(204);
    }

    @Test
    void whatHasToBeTypedHasToBeTypedAtEachDoor() throws Exception {
        HttpResponse<String> plan = site.send("GET", "/queen/1/deletion", "");
        String one = "{\"keys\": [1]}";

        HttpResponse<String> mute = site.send("DELETE", "/queen/1", "", "If-Match", tag(plan));
        HttpResponse<String> wrong =
                site.send("DELETE", "/queen/1", "", "If-Match", tag(plan), "Vacancy-Answer", encoded("Bryony"));
        HttpResponse<String> several = site.send("POST", "/queen/deletions", one, "If-Match", tag(plan));
        HttpResponse<String> signed = site.send(
                "POST",
                "/queen/deletions",
                "{\"keys\": [\"1\"], \"approval\": \""
                        + json(plan).get("approval").asString() + "\"}");

        assertThat(List.of(mute.statusCode(), wrong.statusCode(), several.statusCode(), signed.statusCode()))
                .containsOnly(409);
        assertThat(json(mute).get("type").asString()).isEqualTo("urn:vacancy:problem:not-agreed");
        assertThat(database.count("queen")).isEqualTo(2);
        HttpResponse<String> right =
                site.send("DELETE", "/queen/1", "", "If-Match", tag(plan), "Vacancy-Answer", encoded("Elowen (über)"));
        assertThat(right.statusCode()).isEqualTo(204);
    }

    @Test
    void whatIsTooLargeForATransactionGoesInChunksAtEachDoor() throws Exception {
        Site small = on(vacancy, WebOptions.defaults().signing(KEYS).inChunksBeyond(1));
        try {
            HttpResponse<String> plan = small.send("GET", "/hive/1/deletion", "");
            HttpResponse<String> one = small.send("DELETE", "/hive/1", "", "If-Match", tag(plan));
            HttpResponse<String> asked = small.send("POST", "/hive/deletions", keys(2, 3));
            HttpResponse<String> several = small.send("POST", "/hive/deletions", keys(2, 3), "If-Match", tag(asked));
            String token = Approvals.of(vacancy, KEYS)
                    .issue(vacancy.plan(Selection.of("hive").key(4), By.user("odile")));
            HttpResponse<String> signed =
                    small.send("POST", "/hive/deletions", "{\"keys\": [4], \"approval\": \"" + token + "\"}");
            HttpResponse<String> spared = small.send("DELETE", "/jar/x,y", "");

            HttpResponse<String> five = small.send("POST", "/hive/deletions", keys(5, 6));
            String chunked = JsonMapper.shared()
                    .writeValueAsString(Map.of(
                            "keys",
                            List.of("5", "6"),
                            "approval",
                            json(five).get("approval").asString()));
            HttpResponse<String> begun = small.send("POST", "/hive/deletions", chunked);
            HttpResponse<String> again = small.send("POST", "/hive/deletions", chunked);

            assertThat(List.of(begun.statusCode(), again.statusCode())).containsOnly(202);
            assertThat(json(again).get("run")).isEqualTo(json(begun).get("run"));
            assertThat(List.of(one.statusCode(), several.statusCode())).containsOnly(202);
            assertThat(json(one).get("records").asInt()).isEqualTo(1);
            assertThat(signed.statusCode()).isEqualTo(409);
            assertThat(spared.statusCode()).isEqualTo(204);
        } finally {
            small.stop();
        }
    }

    @Test
    void noNumberIsRoundedOnItsWay() throws Exception {
        HttpResponse<String> fraction = site.send("POST", "/scale/deletions", "{\"keys\": [12345678901234567.89]}");
        HttpResponse<String> odd = site.send("POST", "/scale/deletions", "{\"keys\": [9007199254740993]}");
        HttpResponse<String> endless = site.send("POST", "/scale/deletions", "{\"keys\": [1e400]}");
        HttpResponse<String> vast = site.send("POST", "/scale/deletions", "{\"keys\": [1e999999999]}");

        assertThat(json(fraction).get("records").get(0).get("scale_id").asString())
                .isEqualTo("12345678901234567.89");
        assertThat(json(odd).get("records").get(0).get("scale_id").asString()).isEqualTo("9007199254740993.00");
        assertThat(json(endless).get("notFound").size()).isEqualTo(1);
        assertThat(vast.statusCode()).isIn(201, 400);
        site.send("POST", "/scale/deletions", "{\"keys\": [12345678901234567.89]}", "If-Match", tag(fraction));
        assertThat(database.rows("select scale_id from scale order by 1"))
                .containsExactly("9007199254740992.00", "9007199254740993.00", "12345678901234568.00");
    }

    @Test
    void aTagThatAProxyHasWeakenedIsToldAndTheFingerprintHelps() throws Exception {
        HttpResponse<String> plan = site.send("GET", "/hive/1/deletion", "");

        HttpResponse<String> weak = site.send("DELETE", "/hive/1", "", "If-Match", "W/" + tag(plan));
        HttpResponse<String> whatever = site.send("DELETE", "/hive/1", "", "If-Match", "*");

        assertThat(weak.statusCode()).isEqualTo(412);
        assertThat(json(weak).get("remedy").asString()).contains("Vacancy-Fingerprint");
        assertThat(whatever.statusCode())
                .as("that there is something is no agreement")
                .isEqualTo(428);
        assertThat(database.count("hive")).isEqualTo(140);
        assertThat(fingerprint(plan)).isEqualTo(json(plan).get("fingerprint").asString());
        assertThat(site.send("DELETE", "/hive/1", "", "Vacancy-Fingerprint", fingerprint(plan))
                        .statusCode())
                .isEqualTo(204);
    }

    @Test
    void ofSeveralTagsOneIsEnough() throws Exception {
        HttpResponse<String> plan = site.send("GET", "/hive/1/deletion", "");
        HttpResponse<String> body = site.send("POST", "/hive/deletions", keys(2, 3));

        HttpResponse<String> list =
                site.send("DELETE", "/hive/1", "", "If-Match", "\"other\", W/\"weak\" , " + tag(plan));
        HttpResponse<String> content = site.send(
                "POST", "/hive/deletions", "{\"keys\": [2, 3], \"fingerprint\": \"" + fingerprint(body) + "\"}");

        assertThat(list.statusCode()).isEqualTo(204);
        assertThat(content.statusCode()).isEqualTo(204);
        assertThat(database.count("hive")).isEqualTo(137);
    }

    /** Another replica, or the same one after a restart. */
    @Test
    void aSignedApprovalNeedsNoMemoryOfTheProcessThatHasMadeThePlan() throws Exception {
        HttpResponse<String> plan = site.send("GET", "/hive/9/deletion", "");
        String token = json(plan).get("approval").asString();
        Site other =
                on(Vacancy.over(database.source(), rules), WebOptions.defaults().signing(KEYS));
        try {
            HttpResponse<String> agreed = other.send(
                    "POST",
                    "/hive/deletions/agreement",
                    JsonMapper.shared().writeValueAsString(Map.of("keys", List.of(9), "approval", token)),
                    "X-User",
                    "una");
            HttpResponse<String> done = other.send(
                    "POST",
                    "/hive/deletions",
                    JsonMapper.shared()
                            .writeValueAsString(Map.of(
                                    "keys",
                                    List.of("9"),
                                    "approval",
                                    json(agreed).get("approval").asString())));

            assertThat(agreed.statusCode()).isEqualTo(200);
            assertThat(done.statusCode()).isEqualTo(200);
            assertThat(json(done).get("counts").get("hive").asInt()).isEqualTo(1);
            assertThat(database.rows("select hive_id from hive where hive_id = 9"))
                    .isEmpty();
        } finally {
            other.stop();
        }
    }

    /** Two people agree to a restore, one of them at another replica, and it is sent twice. */
    @Test
    void aSignedApprovalOfARestoreIsRedeemedOnce() throws Exception {
        UUID run = vacancy.delete(Selection.of("hive").key(9), By.user("odile")).runId();
        String restoration = "/runs/" + run + "/restoration";
        String alone = json(site.send("GET", restoration, "")).get("approval").asString();
        Site other =
                on(Vacancy.over(database.source(), rules), WebOptions.defaults().signing(KEYS));
        try {
            HttpResponse<String> agreed = other.send(
                    "POST", restoration + "/agreement", "{\"approval\": \"" + alone + "\"}", "X-User", "una");
            HttpResponse<String> oneself =
                    other.send("POST", restoration + "/agreement", "{\"approval\": \"" + alone + "\"}");
            String both = "{\"approval\": \"" + json(agreed).get("approval").asString() + "\"}";
            HttpResponse<String> first = other.send("POST", restoration, both);
            HttpResponse<String> second = site.send("POST", restoration, both);

            HttpResponse<String> elsewhere = site.send(
                    "POST",
                    "/hive/deletions",
                    JsonMapper.shared()
                            .writeValueAsString(Map.of(
                                    "keys",
                                    List.of("8"),
                                    "approval",
                                    json(agreed).get("approval").asString())));
            assertThat(elsewhere.statusCode()).isEqualTo(403);
            assertThat(oneself.statusCode()).isEqualTo(409);
            assertThat(List.of(first.statusCode(), second.statusCode())).containsOnly(200);
            assertThat(json(second).get("run")).isEqualTo(json(first).get("run"));
            assertThat(json(second).get("repeated").asBoolean()).isTrue();
            assertThat(database.rows("select name from hive where hive_id = 9")).containsExactly("Hive 9");
        } finally {
            other.stop();
        }
    }

    @Test
    void aSignedApprovalIsOfOneDatabase() throws Exception {
        String token =
                json(site.send("GET", "/hive/9/deletion", "")).get("approval").asString();
        Database copy = Engine.H2
                .database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(40))",
                        "insert into hive values (9, 'Hive 9')");
        RuleBook kept = RuleBook.bySchema().trail(Trail.defaults());
        Ddl.of(copy.source(), kept).apply();
        Vacancy there = Vacancy.over(copy.source(), kept);
        Ddl.of(copy.source(), Ddl.Part.APPROVALS).apply();
        Site other = Site.of(
                there,
                List.of("hive"),
                (by, act, table) -> true,
                WebOptions.defaults().signing(KEYS));
        try {
            HttpResponse<String> refused =
                    other.send("POST", "/hive/deletions", "{\"keys\": [9], \"approval\": \"" + token + "\"}");

            assertThat(refused.statusCode()).isEqualTo(403);
            assertThat(copy.count("hive")).isEqualTo(1);
        } finally {
            other.stop();
        }
    }
}
