package dev.vacancy.web;

import static dev.vacancy.web.Responses.encoded;
import static dev.vacancy.web.Responses.fingerprint;
import static dev.vacancy.web.Responses.json;
import static dev.vacancy.web.Responses.tag;
import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import com.mongodb.client.MongoCollection;
import de.bwaldvogel.mongo.MongoServer;
import de.bwaldvogel.mongo.backend.memory.MemoryBackend;
import dev.vacancy.Vacancy;
import dev.vacancy.approvals.ApprovalKeys;
import dev.vacancy.documents.Documents;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.net.http.HttpResponse;
import java.util.List;
import java.util.Map;
import org.bson.Document;
import org.bson.types.ObjectId;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The same addresses on documents: each response is held against the same OpenAPI document. */
class DocumentsOverHttpTest {
    private static final ObjectId HIVE = new ObjectId("65f0a1b2c3d4e5f6a7b8c9d0");
    private static final ObjectId BIRCH = new ObjectId("65f0a1b2c3d4e5f6a7b8c9d1");

    private final MongoServer server = new MongoServer(new MemoryBackend());
    private final MongoClient client = MongoClients.create(server.bindAndGetConnectionString());
    private Site site;

    @BeforeEach
    void start() throws Exception {
        start(WebOptions.defaults().signing(ApprovalKeys.signingWith("one", new byte[32])));
    }

    private void start(WebOptions options) throws Exception {
        client.getDatabase("larkmoor").drop();
        collection("hive")
                .insertMany(List.of(
                        new Document("_id", HIVE)
                                .append("label", "Alder")
                                .append("place", new Document("yard", "east").append("row", 3)),
                        new Document("_id", BIRCH).append("label", "Birch")));
        collection("swarm")
                .insertMany(List.of(
                        new Document("_id", "3").append("seen", "east"),
                        new Document("_id", 3).append("seen", "west"),
                        new Document("_id", HIVE).append("seen", "north")));
        for (int id = 1; id <= 4; id++) {
            collection("reading").insertOne(new Document("_id", id).append("hive", HIVE));
        }
        collection("loan").insertOne(new Document("_id", 1).append("hive", BIRCH));
        collection("keeper").insertOne(new Document("_id", 1).append("name", "Ansel"));
        RuleBook rules = RuleBook.bySchema()
                .label("hive", "{label}")
                .link("reading.hive", "hive")
                .on("reading.hive", Clause.cascade())
                .link("loan.hive", "hive")
                .on("loan.hive", Clause.block("it is on loan"))
                .marker("keeper", Marker.timestamp("leftAt"))
                .soft("keeper", SoftDelete.defaults())
                .trail(Trail.defaults());
        Vacancy vacancy = Documents.over(client, "larkmoor", rules);
        site = Site.of(vacancy, List.of("hive", "reading", "keeper", "swarm"), (by, act, table) -> true, options);
    }

    private MongoCollection<Document> collection(String name) {
        return client.getDatabase("larkmoor").getCollection(name);
    }

    @AfterEach
    void stop() throws Exception {
        site.stop();
        client.close();
        server.shutdownNow();
    }

    private HttpResponse<String> send(String method, String path, String body, String... headers) throws Exception {
        return site.send(method, path, body, headers);
    }

    @Test
    void thePlanIsShownAndExactlyItIsRun() throws Exception {
        HttpResponse<String> plan = send("GET", "/hive/" + HIVE + "/deletion", "");
        HttpResponse<String> blind = send("DELETE", "/hive/" + HIVE, "");
        HttpResponse<String> done = send("DELETE", "/hive/" + HIVE, "", "If-Match", tag(plan));
        assertThat(plan.statusCode()).isEqualTo(200);
        assertThat(json(plan).get("counts").get("reading").asInt()).isEqualTo(4);
        assertThat(json(plan).get("question").asString())
                .isEqualTo("Delete hive " + HIVE
                        + " 'Alder' and 4 records that depend on it? Others see it while it goes on.");
        assertThat(json(plan).get("transactional").asBoolean()).isFalse();
        assertThat(blind.statusCode()).isEqualTo(428);
        assertThat(done.statusCode()).isEqualTo(204);
        assertThat(collection("reading").countDocuments()).isZero();
    }

    @Test
    void whatForbidsADeletionIsNamed() throws Exception {
        HttpResponse<String> blocked = send("GET", "/hive/" + BIRCH + "/deletion", "");

        assertThat(json(blocked).get("blockers").toString()).contains("it is on loan");
        assertThat(send("DELETE", "/hive/" + BIRCH, "").statusCode()).isEqualTo(409);
        assertThat(send("GET", "/hive/65f0a1b2c3d4e5f6a7b8c9d9/deletion", "").statusCode())
                .isEqualTo(404);
    }

    @Test
    void whereIdsAreOfManyTypesATextIsATextAndAnotherIsToldByItsType() throws Exception {
        String number = encoded("{\"$numberInt\":\"3\"}");
        String id = encoded("{\"$oid\":\"" + HIVE + "\"}");

        assertThat(send("DELETE", "/swarm/3", "", "If-Match", tag(send("GET", "/swarm/3/deletion", "")))
                        .statusCode())
                .isEqualTo(204);
        assertThat(collection("swarm").distinct("seen", String.class)).containsExactlyInAnyOrder("west", "north");
        assertThat(send(
                                "DELETE",
                                "/swarm/" + number,
                                "",
                                "If-Match",
                                tag(send("GET", "/swarm/" + number + "/deletion", "")))
                        .statusCode())
                .isEqualTo(204);
        assertThat(collection("swarm").distinct("seen", String.class)).containsExactly("north");
        assertThat(json(send("GET", "/swarm/" + id + "/deletion", ""))
                        .get("counts")
                        .get("swarm")
                        .asInt())
                .isEqualTo(1);
    }

    @Test
    void aSignedApprovalIsRedeemedOnceAndTheRunIsUndone() throws Exception {
        HttpResponse<String> plan = send("GET", "/hive/" + HIVE + "/deletion", "");
        String body = JsonMapper.shared()
                .writeValueAsString(Map.of(
                        "keys",
                        List.of(HIVE.toHexString()),
                        "approval",
                        json(plan).get("approval").asString()));
        HttpResponse<String> first = send("POST", "/hive/deletions", body);
        HttpResponse<String> second = send("POST", "/hive/deletions", body);
        String run = json(first).get("run").asString();

        assertThat(json(second).get("run").asString()).isEqualTo(run);
        assertThat(json(second).get("repeated").asBoolean()).isTrue();

        HttpResponse<String> back = send("GET", "/runs/" + run + "/restoration", "");
        HttpResponse<String> returned = send(
                "POST",
                "/runs/" + run + "/restoration",
                JsonMapper.shared()
                        .writeValueAsString(
                                Map.of("approval", json(back).get("approval").asString())));
        assertThat(returned.statusCode()).isEqualTo(200);
        assertThat(collection("reading").countDocuments()).isEqualTo(4);
        assertThat(json(send("GET", "/history/runs", "")).toString()).contains("\"restore\"", "\"deletion\"");
    }

    @Test
    void aMarkedRecordIsListedAndTold() throws Exception {
        HttpResponse<String> plan = send("GET", "/keeper/1/deletion", "");
        send("DELETE", "/keeper/1", "", "If-Match", tag(plan));

        JsonNode listed = json(send("GET", "/keeper/deleted", ""));
        JsonNode told = json(send("GET", "/keeper/1/history", ""));

        assertThat(listed.toString()).contains("Ansel", "odile");
        assertThat(told.toString()).contains("marked");
    }

    @Test
    void moreThanGoesAtOnceIsABulkRunThatIsWorkedOn() throws Exception {
        site.stop();
        start(WebOptions.defaults()
                .signing(ApprovalKeys.signingWith("one", new byte[32]))
                .inChunksBeyond(2));
        String keys = "{\"keys\": [1, 2, 3, 4]";
        HttpResponse<String> plan = send("POST", "/reading/deletions", keys + "}");
        HttpResponse<String> begun = send(
                "POST",
                "/reading/deletions",
                keys + ", \"answer\": \"4\", \"approval\": \""
                        + json(plan).get("approval").asString() + "\"}");

        assertThat(begun.statusCode()).isEqualTo(202);
        await().until(() -> collection("reading").countDocuments() == 0);
        assertThat(json(send("GET", "/runs", "")).get(0).get("records").asInt()).isEqualTo(4);
    }

    @Test
    void aRecordIsErasedWithWhatIsToldOfIt() throws Exception {
        HttpResponse<String> plan = send("GET", "/hive/" + HIVE + "/erasure", "");
        HttpResponse<String> done = send(
                "POST",
                "/hive/" + HIVE + "/erasure",
                JsonMapper.shared()
                        .writeValueAsString(
                                Map.of("answer", json(plan).get("typed").asString())),
                "Vacancy-Fingerprint",
                fingerprint(plan));

        assertThat(done.statusCode()).as(done.body()).isLessThan(300);
        assertThat(collection("hive").countDocuments()).isEqualTo(1);
        assertThat(collection("vacancy_trail_entry")
                        .countDocuments(new Document("content", new Document("$regex", "Alder"))))
                .isZero();
    }
}
