package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.dump;
import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.IndexOptions;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.DeletedRecord;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import dev.vacancy.history.Verification;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.time.Clock;
import java.time.Instant;
import java.time.Period;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.bson.BsonArray;
import org.bson.BsonBinary;
import org.bson.BsonDateTime;
import org.bson.BsonDecimal128;
import org.bson.BsonDocument;
import org.bson.BsonDouble;
import org.bson.BsonInt32;
import org.bson.BsonInt64;
import org.bson.BsonMaxKey;
import org.bson.BsonNull;
import org.bson.BsonObjectId;
import org.bson.BsonRegularExpression;
import org.bson.BsonString;
import org.bson.BsonTimestamp;
import org.bson.BsonValue;
import org.bson.Document;
import org.bson.types.Decimal128;
import org.bson.types.ObjectId;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What is written down of runs over documents, and what it is good for. */
class DocumentTrailTest {
    /** Where the documents are. */
    DocumentServer server() {
        return DocumentServer.PLAIN;
    }

    private static final By ODILE = By.user("odile").because("colony lost");
    private static final By ANSEL = By.user("ansel").because("inquiry");
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .link("photo.hives", "hive")
            .on("photo.hives", Clause.detach())
            .trail(Trail.defaults());

    private MongoDatabase larkmoor;

    @BeforeEach
    void fill() {
        larkmoor = server().database();
        put(
                larkmoor,
                "hive",
                "{_id: 1, label: 'Alder', inspections: [{by: 'odile', queen: true}]}",
                "{_id: 2, label: 'Birch'}",
                "{_id: 3, label: 'Clover'}");
        put(larkmoor, "reading", "{_id: 11, hive: 1, kilos: 31.5}", "{_id: 12, hive: 1}", "{_id: 13, hive: 2}");
        put(larkmoor, "photo", "{_id: 'p1', hives: [1, 2]}", "{_id: 'p2', hives: [1]}");
    }

    private Vacancy over(RuleBook rules) {
        return over(rules, Clock.systemUTC());
    }

    private Vacancy over(RuleBook rules, Clock clock) {
        return Documents.over(server().client(), larkmoor.getName(), rules, clock);
    }

    private MongoCollection<BsonDocument> collection(String name) {
        return larkmoor.getCollection(name, BsonDocument.class);
    }

    private static RestoreOutcome undo(Vacancy vacancy, UUID run) {
        return vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ANSEL)));
    }

    @Test
    void aRunIsTold() {
        Vacancy vacancy = over(RULES);
        Outcome outcome = vacancy.delete(Selection.of("hive").key(1), ODILE);
        History history = vacancy.history();

        assertThat(history.runs(HistoryQuery.all())).singleElement().satisfies(run -> {
            assertThat(run.runId()).isEqualTo(outcome.runId());
            assertThat(run.kind()).isEqualTo("deletion");
            assertThat(run.by().actor()).isEqualTo("odile");
            assertThat(run.by().reason()).contains("colony lost");
            assertThat(run.table()).isEqualTo("hive");
            assertThat(run.counts()).isEqualTo(Map.of("hive", 1L, "reading", 2L));
            assertThat(run.entries()).isEqualTo(5);
        });
        assertThat(history.entries(HistoryQuery.all().ofRecord("hive", "1")))
                .singleElement()
                .satisfies(entry -> {
                    assertThat(entry.action()).isEqualTo("deleted");
                    assertThat(entry.before().orElseThrow())
                            .containsEntry("label", "Alder")
                            .containsKey("inspections");
                });
        assertThat(history.entries(HistoryQuery.all().ofTable("photo")))
                .extracting(TrailEntry::action, TrailEntry::key)
                .containsExactlyInAnyOrder(tuple("detached", "p1"), tuple("detached", "p2"));
        assertThat(history.entries(HistoryQuery.all().ofRecord("photo", "p2")).get(0))
                .satisfies(entry -> {
                    assertThat(entry.before().orElseThrow().get("hives")).isEqualTo(List.of(1));
                    assertThat(entry.after().orElseThrow().get("hives")).isEqualTo(List.of());
                });
        List<TrailEntry> each = new ArrayList<>();
        history.forEach(HistoryQuery.all(), each::add);
        assertThat(each).hasSize(5);
        assertThat(history.runs(HistoryQuery.all().between(Instant.EPOCH, Instant.EPOCH)))
                .isEmpty();
        assertThat(history.runs(HistoryQuery.all().by("ansel"))).isEmpty();
    }

    @Test
    void aRunIsUndoneAndThatIsUndoneAgain() {
        Map<String, List<String>> before = dump(larkmoor);
        Vacancy vacancy = over(RULES);
        UUID run = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();
        Map<String, List<String>> after = dump(larkmoor);

        RestorePlan plan = vacancy.history().planRestore(run, ANSEL);
        assertThat(plan.counts()).isEqualTo(Map.of("hive", 1L, "reading", 2L));
        assertThat(plan.putBack()).isEqualTo(Map.of("photo.hives", 2L));
        assertThat(plan.conflicts()).isEmpty();
        assertThat(dump(larkmoor)).as("a plan changes nothing").isEqualTo(after);
        RestoreOutcome restored = vacancy.history().restore(Approval.of(plan));

        assertThat(dump(larkmoor)).isEqualTo(before);
        assertThat(restored.counts()).isEqualTo(plan.counts());
        assertThatThrownBy(() -> vacancy.history().planRestore(run, ANSEL)).hasMessageContaining("was undone by ansel");
        vacancy.delete(vacancy.history().undoing(restored.runId()), ODILE);
        assertThat(dump(larkmoor)).isEqualTo(after);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void oneRecordComesBackWithWhatHungOnIt() {
        Vacancy vacancy = over(RULES);
        UUID run =
                vacancy.delete(Selection.of("hive").keys(List.of(1, 2)), ODILE).runId();
        History history = vacancy.history();

        history.restore(Approval.of(history.planRestore(run, "hive", "2", ANSEL)));

        assertThat(collection("photo").find(new Document("_id", "p1")).first())
                .as("of an array only what came back is put back")
                .isEqualTo(BsonDocument.parse("{_id: 'p1', hives: [2]}"));
        assertThat(collection("hive").find())
                .extracting(hive -> hive.getInt32("_id").getValue())
                .containsExactlyInAnyOrder(2, 3);
        assertThat(collection("reading").find()).hasSize(1);
        assertThatThrownBy(() -> history.planRestore(run, "hive", "9", ANSEL)).hasMessageContaining("knows nothing of");
        RestorePlan rest = history.planRestore(run, ANSEL);
        assertThat(rest.left()).anyMatch(sentence -> sentence.contains("brought back before"));
        history.restore(Approval.of(rest));
        assertThat(collection("hive").countDocuments()).isEqualTo(3);
        assertThat(collection("reading").countDocuments()).isEqualTo(3);
        assertThat(dump(larkmoor).get("photo"))
                .containsExactly("{\"_id\": \"p1\", \"hives\": [1, 2]}", "{\"_id\": \"p2\", \"hives\": [1]}");
    }

    @Test
    void valuesOfEveryTypeComeBackAsTheyWere() {
        BsonDocument odd = new BsonDocument("_id", new BsonObjectId(new ObjectId("64b5f0a1c2d3e4f5a6b7c8d9")))
                .append("whole", new BsonInt64(5))
                .append("small", new BsonInt32(5))
                .append("real", new BsonDouble(-0.0))
                .append("none", new BsonDouble(Double.NaN))
                .append("exact", new BsonDecimal128(Decimal128.parse("1.10")))
                .append("at", new BsonDateTime(-62_135_596_800_001L))
                .append("text", new BsonString("a\u0000b\uFFFD\"\\"))
                .append("bytes", new BsonBinary(new byte[] {1, 2}))
                .append("id", new BsonBinary(UUID.randomUUID()))
                .append("pattern", new BsonRegularExpression("^a", "i"))
                .append("clock", new BsonTimestamp(7, 8))
                .append("last", new BsonMaxKey())
                .append("nothing", BsonNull.VALUE)
                .append("list", new BsonArray(List.of(new BsonInt32(1), new BsonArray(List.of(BsonNull.VALUE)))))
                .append("like a type", new BsonDocument("$oid", new BsonString("64b5f0a1c2d3e4f5a6b7c8d9")))
                .append("empty", new BsonDocument());
        collection("box").insertOne(odd.clone());
        Vacancy vacancy = over(RULES);

        UUID run =
                vacancy.delete(Selection.of("box").key(odd.get("_id")), ODILE).runId();
        assertThat(collection("box").countDocuments()).isZero();
        undo(vacancy, run);

        assertThat(collection("box").find().first()).isEqualTo(odd);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void recordsAreKnownByKeysThatNoOtherHas() {
        List<BsonValue> ids = List.of(
                new BsonInt32(5),
                new BsonString("5"),
                new BsonString("Alder"),
                new BsonObjectId(new ObjectId("64b5f0a1c2d3e4f5a6b7c8d9")),
                new BsonString("64b5f0a1c2d3e4f5a6b7c8d9"),
                new BsonString("true"),
                new BsonDateTime(0),
                new BsonDocument("row", new BsonInt32(1)).append("yard", new BsonString("heath")));
        ids.forEach(id -> collection("box").insertOne(new BsonDocument("_id", id)));
        Vacancy vacancy = over(RULES);
        vacancy.delete(Selection.of("box").keys(List.<Object>copyOf(ids)), ODILE);

        List<TrailEntry> entries =
                vacancy.history().entries(HistoryQuery.all().ofTable("box").atMost(50));
        assertThat(entries)
                .hasSize(8)
                .extracting(TrailEntry::key)
                .doesNotHaveDuplicates()
                .contains("5", "\"5\"", "Alder", "64b5f0a1c2d3e4f5a6b7c8d9", "1970-01-01T00:00:00Z");
        assertThat(vacancy.history().keyText("box", new KeyGiven.InOrder(List.of(new BsonString("5")))))
                .isEqualTo("\"5\"");
    }

    @Test
    void whatStandsInTheWayIsNamed() {
        collection("hive").createIndex(new Document("label", 1), new IndexOptions().unique(true));
        Vacancy vacancy = over(RULES);
        UUID hive = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();
        put(larkmoor, "hive", "{_id: 1, label: 'Dogwood'}", "{_id: 9, label: 'Alder'}");

        RestorePlan plan = vacancy.history().planRestore(hive, ANSEL);

        assertThat(plan.conflicts())
                .extracting(Conflict::reason)
                .contains("there is a record with this key again", "its label is taken by hive 9");
        assertThatThrownBy(() -> vacancy.history().restore(Approval.of(plan)))
                .isInstanceOf(InvalidRequestException.class);
        collection("hive").deleteOne(new Document("_id", 1));
        collection("hive").deleteOne(new Document("_id", 9));
        undo(vacancy, hive);
        assertThat(collection("hive").countDocuments()).isEqualTo(3);
    }

    @Test
    void childrenDontComeBackWithoutTheirParent() {
        Vacancy vacancy = over(RULES);
        UUID reading = vacancy.delete(Selection.of("reading").key(13), ODILE).runId();
        UUID hive = vacancy.delete(Selection.of("hive").key(2), ODILE).runId();

        assertThat(vacancy.history().planRestore(reading, ANSEL).conflicts())
                .singleElement()
                .satisfies(conflict -> {
                    assertThat(conflict.reason()).isEqualTo("its hive 2 (reading.hive) isn't there");
                    assertThat(conflict.remedy()).isEqualTo("Restore hive 2 first.");
                });
        undo(vacancy, hive);
        undo(vacancy, reading);
        assertThat(collection("reading").countDocuments()).isEqualTo(3);
    }

    @Test
    void whatWasChangedSinceStays() {
        Vacancy vacancy = over(RULES);
        UUID run = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();
        collection("photo").updateOne(new Document("_id", "p2"), new Document("$push", new Document("hives", 3)));
        collection("photo").deleteOne(new Document("_id", "p1"));

        RestorePlan plan = vacancy.history().planRestore(run, ANSEL);

        assertThat(plan.putBack()).isEqualTo(Map.of("photo.hives", 1L));
        assertThat(plan.left()).containsExactly("photo p1 stays as it is: it was deleted since.");
        vacancy.history().restore(Approval.of(plan));
        assertThat(dump(larkmoor).get("photo"))
                .as("what was added since stays beside what is put back")
                .containsExactly("{\"_id\": \"p2\", \"hives\": [3, 1]}");
    }

    @Test
    void softDeletedDocumentsAreListedAndComeBack() {
        RuleBook soft = RULES.marker("hive", Marker.timestamp("left.at"))
                .soft(
                        "hive",
                        SoftDelete.defaults()
                                .deletedBy("left.by", "left.because")
                                .keptFor(Period.ofDays(30)))
                .marker("reading", Marker.timestamp("deletedAt"))
                .soft("reading", SoftDelete.defaults())
                .versionColumn("hive.version");
        Vacancy vacancy = over(soft);
        UUID run = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();

        List<DeletedRecord> deleted = vacancy.history().deleted("hive", 10);
        assertThat(deleted).singleElement().satisfies(record -> {
            assertThat(record.run()).contains(run);
            assertThat(record.by().orElseThrow().actor()).isEqualTo("odile");
            assertThat(record.daysLeft()).contains(30L);
        });
        UUID below = vacancy.delete(Selection.of("hive").key(2), ODILE).runId();
        undo(vacancy, run);

        assertThat(collection("hive").find(new Document("_id", 1)).first())
                .isEqualTo(BsonDocument.parse(
                        "{_id: 1, label: 'Alder', inspections: [{by: 'odile', queen: true}], version: 2}"));
        assertThat(collection("reading").find(new Document("hive", 1)))
                .noneMatch(reading -> reading.containsKey("deletedAt"));
        collection("hive").updateOne(new Document("_id", 2), new Document("$unset", new Document("left", "")));
        assertThat(vacancy.history().planRestore(below, ANSEL).left())
                .contains("hive 2 stays as it is: it was deleted anew, or brought back, since.");
    }

    @Test
    void whatWasBelowASoftDeletedParentWaitsForIt() {
        RuleBook soft = RULES.marker("hive", Marker.timestamp("leftAt")).soft("hive", SoftDelete.defaults());
        Vacancy vacancy = over(soft);
        UUID reading = vacancy.delete(Selection.of("reading").key(13), ODILE).runId();
        vacancy.delete(Selection.of("hive").key(2), ODILE);

        assertThat(vacancy.history().planRestore(reading, ANSEL).conflicts())
                .singleElement()
                .satisfies(conflict ->
                        assertThat(conflict.reason()).isEqualTo("its hive 2 (reading.hive) was soft-deleted since"));
        UUID gone = vacancy.delete(Selection.of("hive").key(3), ODILE).runId();
        vacancy.delete(Selection.of("hive").key(3).hard(), ODILE);
        assertThat(vacancy.history().planRestore(gone, ANSEL).conflicts())
                .extracting(Conflict::reason)
                .containsExactly("it is gone for good");
    }

    @Test
    void heldRecordsStay() {
        Vacancy vacancy = over(RULES);
        History history = vacancy.history();
        UUID hold = history.hold("reading", "kilos > 30", ANSEL);
        UUID standing = history.standingHold("hive", "label = 'Birch'", ANSEL);

        assertThat(history.holds()).extracting(TrailRun::runId).containsExactly(hold, standing);
        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);
        assertThat(plan.holds()).singleElement().satisfies(held -> {
            assertThat(held.table()).isEqualTo("reading");
            assertThat(held.count()).isEqualTo(1);
        });
        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOf(VacancyException.class)
                .hasMessageContaining("inquiry");
        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(2), ODILE))
                .isInstanceOf(VacancyException.class);
        assertThat(collection("hive").countDocuments()).isEqualTo(3);

        history.lift(hold, ANSEL);
        history.lift(standing, ANSEL);
        assertThat(history.holds()).isEmpty();
        vacancy.delete(Selection.of("hive").keys(List.of(1, 2)), ODILE);
        assertThatThrownBy(() -> history.lift(hold, ANSEL)).hasMessageContaining("lifted already");
        assertThatThrownBy(() -> history.hold("reading", "kilos > 1000", ANSEL))
                .hasMessageContaining("none would be held");
        assertThatThrownBy(() -> history.hold("hive", "label = 'Clover'", By.user("ansel")))
                .hasMessageContaining("reason");
        assertThat(history.verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void aTrailThatWasChangedDoesNotVerify() {
        Vacancy vacancy = over(RULES);
        UUID first = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();
        vacancy.delete(Selection.of("hive").key(2), ODILE);
        History history = vacancy.history();
        Verification.Head head = history.verify(Optional.empty()).head();
        MongoCollection<BsonDocument> runs = collection("vacancy_trail_run");
        MongoCollection<BsonDocument> entries = collection("vacancy_trail_entry");
        BsonDocument run = runs.find(new Document("run", first.toString())).first();
        BsonDocument entry = entries.find(new Document("table", "reading")).first();
        assertThat(history.verify(Optional.of(head)).faults()).isEmpty();

        runs.updateOne(new Document("_id", run.get("_id")), new Document("$set", new Document("actor", "nobody")));
        assertThat(history.verify(Optional.empty()).faults())
                .hasSize(1)
                .first()
                .asString()
                .contains("was changed");
        runs.replaceOne(new Document("_id", run.get("_id")), run);

        entries.updateOne(new Document("_id", entry.get("_id")), new Document("$set", new Document("content", "{}")));
        assertThat(history.verify(Optional.empty()).faults())
                .hasSize(1)
                .first()
                .asString()
                .contains("was changed");
        entries.deleteOne(new Document("_id", entry.get("_id")));
        assertThat(history.verify(Optional.empty()).faults()).isNotEmpty();
        entries.insertOne(entry);
        assertThat(history.verify(Optional.empty()).faults()).isEmpty();

        entries.insertOne(entry.clone().append("_id", new BsonString("5/1/1")).append("run", new BsonInt64(5)));
        assertThat(history.verify(Optional.empty()).faults()).anyMatch(fault -> fault.contains("slipped in"));
        entries.deleteOne(new Document("run", 5L));

        runs.deleteOne(new Document("_id", 2L));
        assertThat(history.verify(Optional.of(head)).faults()).isNotEmpty();
    }

    @Test
    void fieldsThatTheTrailLeavesOutStayAway() {
        Vacancy vacancy = over(RULES.trail(Trail.defaults().without("hive.inspections.by", "reading.kilos")));
        UUID run = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();

        assertThat(collection("vacancy_trail_entry").find())
                .noneMatch(entry -> entry.toJson().contains("31.5"));
        assertThat(vacancy.history().planRestore(run, ANSEL).left())
                .anyMatch(sentence -> sentence.contains("the trail was told to leave it out"));
        undo(vacancy, run);
        assertThat(collection("hive").find(new Document("_id", 1)).first())
                .isEqualTo(BsonDocument.parse("{_id: 1, label: 'Alder', inspections: [{queen: true}]}"));
    }

    @Test
    void whatTheTrailLeavesOutStaysBesideWhatIsPutBack() {
        put(larkmoor, "keeper", "{_id: 1, state: {phone: '555-0101', of: 'Larkmoor'}}");
        Vacancy vacancy = over(RULES.marker("keeper", Marker.timestamp("state.leftAt"))
                .soft("keeper", SoftDelete.defaults())
                .trail(Trail.defaults().without("keeper.state.phone")));
        UUID run = vacancy.delete(Selection.of("keeper").key(1), ODILE).runId();
        assertThat(collection("vacancy_trail_entry").find())
                .noneMatch(entry -> entry.toJson().contains("555"));

        undo(vacancy, run);

        assertThat(collection("keeper").find().first().getDocument("state"))
                .isEqualTo(BsonDocument.parse("{of: 'Larkmoor', phone: '555-0101'}"));
    }

    @Test
    void manyWhoWriteAtOnceMakeOneChain() throws Exception {
        List<Document> boxes = new ArrayList<>();
        for (int i = 0; i < 40; i++) {
            boxes.add(new Document("_id", i));
        }
        larkmoor.getCollection("box").insertMany(boxes);
        Vacancy vacancy = over(RULES);
        ExecutorService people = Executors.newFixedThreadPool(8);
        try {
            List<Future<?>> done = new ArrayList<>();
            for (int i = 0; i < 40; i++) {
                int box = i;
                done.add(people.submit(() -> vacancy.delete(Selection.of("box").key(box), ODILE)));
            }
            for (Future<?> each : done) {
                each.get();
            }
        } finally {
            people.shutdownNow();
        }

        Verification verification = vacancy.history().verify(Optional.empty());
        assertThat(verification.faults()).isEmpty();
        assertThat(verification.runs()).isEqualTo(40);
        assertThat(collection("box").countDocuments()).isZero();
    }

    @Test
    void peopleSeeOfTheTrailWhatTheyMay() {
        Vacancy vacancy = over(RULES);
        vacancy.delete(Selection.of("hive").key(1), ODILE);
        Permissions none = (by, action, table) -> action != Permissions.Action.HISTORY || !table.equals("hive");

        History seen = vacancy.actingFor(ANSEL, none).history();

        assertThat(seen.runs(HistoryQuery.all())).isEmpty();
        assertThat(seen.entries(HistoryQuery.all()))
                .extracting(TrailEntry::table)
                .containsOnly("photo", "reading");
    }

    @Test
    void whatNobodyAgreedToOrCanBeIsRefused() {
        Vacancy vacancy = over(RULES);
        UUID run = vacancy.delete(Selection.of("hive").key(1), ODILE).runId();
        Plan other = vacancy.plan(Selection.of("hive").key(2), ODILE);

        assertThatThrownBy(() -> vacancy.history().restore(Approval.of(other)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("of no restore");
        assertThatThrownBy(() -> vacancy.history().planRestore(UUID.randomUUID(), ANSEL))
                .hasMessageContaining("has no run");
        UUID restore = undo(vacancy, run).runId();
        assertThatThrownBy(() -> vacancy.history().planRestore(restore, ANSEL)).hasMessageContaining("is no deletion");
        assertThatThrownBy(() -> over(RULES.trail(Trail.defaults().inSchema("books"))))
                .hasMessageContaining("another schema");
        assertThatThrownBy(() -> over(RuleBook.bySchema()).history().runs(HistoryQuery.all()))
                .satisfies(refused ->
                        assertThat(((VacancyException) refused).code()).isEqualTo(FailureCode.NO_TRAIL));
    }

    @Test
    void theTrailIsNoCollectionOfTheApplication() {
        Vacancy vacancy = over(RULES.trail(Trail.defaults().named("log", "log_entry")));
        vacancy.delete(Selection.of("hive").key(1), ODILE);

        Vacancy again = over(RULES.trail(Trail.defaults().named("log", "log_entry")));
        assertThat(again.catalog().tables()).extracting(Object::toString).doesNotContain("log", "log_entry");
        assertThat(again.history().runs(HistoryQuery.all())).hasSize(1);
        put(larkmoor, "note", "{text: 'inspect on Monday'}");
        assertThatThrownBy(() -> over(RULES.trail(Trail.defaults().named("log", "note"))))
                .hasMessageContaining("something else than a trail");
    }
}
