package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.dump;
import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.ConnectionString;
import com.mongodb.MongoClientSettings;
import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoClients;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.UnexpectedCountException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.time.Clock;
import java.time.Duration;
import java.time.Period;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicInteger;
import org.bson.BsonDocument;
import org.bson.BsonNull;
import org.bson.Document;
import org.bson.UuidRepresentation;
import org.bson.types.ObjectId;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class DocumentsTest {
    /** Where the documents are. */
    DocumentServer server() {
        return DocumentServer.PLAIN;
    }

    private static final By ODILE = By.user("odile").because("colony lost");
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .link("photo.hives", "hive")
            .on("photo.hives", Clause.detach())
            .link("loan.hive", "hive")
            .on("loan.hive", Clause.block("it is on loan"))
            .link("hive.yard", "yard")
            .on("hive.yard", Clause.block("it stands there"));

    private MongoDatabase larkmoor;

    @BeforeEach
    void fill() {
        larkmoor = server().database();
        put(larkmoor, "yard", "{_id: 'heath', name: 'Heath yard'}", "{_id: 'mill', name: 'Mill yard'}");
        put(
                larkmoor,
                "hive",
                "{_id: 1, label: 'Alder', yard: 'heath', inspections: [{on: {$date: '2026-05-01T00:00:00Z'}, by: 'odile'}]}",
                "{_id: 2, label: 'Birch', yard: 'heath'}",
                "{_id: 3, label: 'Clover', yard: 'mill'}");
        put(
                larkmoor,
                "reading",
                "{_id: 11, hive: 1, kilos: 31.5}",
                "{_id: 12, hive: 1, kilos: 30.25}",
                "{_id: 13, hive: 2, kilos: 28}");
        put(larkmoor, "photo", "{_id: 'p1', hives: [1, 2]}", "{_id: 'p2', hives: [1]}", "{_id: 'p3', hives: [3]}");
        put(larkmoor, "loan", "{_id: 'l1', hive: 2, to: 'Ansel'}");
    }

    private Vacancy over(RuleBook rules) {
        return Documents.over(server().client(), larkmoor.getName(), rules);
    }

    @Test
    void aDocumentGoesWithWhatRefersToIt() {
        Outcome outcome = over(RULES).delete(Selection.of("hive").key(1), ODILE);

        assertThat(outcome.counts()).isEqualTo(Map.of("hive", 1L, "reading", 2L));
        assertThat(outcome.changed()).isEqualTo(Map.of("photo.hives", 2L));
        assertThat(dump(larkmoor).get("hive")).hasSize(2);
        assertThat(dump(larkmoor).get("reading")).containsExactly("{\"_id\": 13, \"hive\": 2, \"kilos\": 28}");
        assertThat(dump(larkmoor).get("photo"))
                .containsExactly(
                        "{\"_id\": \"p1\", \"hives\": [2]}",
                        "{\"_id\": \"p2\", \"hives\": []}",
                        "{\"_id\": \"p3\", \"hives\": [3]}");
    }

    @Test
    void nothingOfARunIsLeftBesideTheDocuments() {
        over(RULES).delete(Selection.of("hive").key(1), ODILE);

        assertThat(dump(larkmoor)).containsOnlyKeys("hive", "loan", "photo", "reading", "yard");
    }

    @Test
    void thePlanSaysWhatWouldHappenAndChangesNothing() {
        Map<String, List<String>> before = dump(larkmoor);

        Plan plan = over(RULES).plan(Selection.of("hive").key(1), ODILE);

        assertThat(plan.tree()).contains("hive", "Alder", "reading", "photo");
        assertThat(plan.counts()).containsEntry("reading", 2L);
        assertThat(dump(larkmoor)).isEqualTo(before);
    }

    @Test
    void whatForbidsADeletionIsNamed() {
        Vacancy vacancy = over(RULES);
        Map<String, List<String>> before = dump(larkmoor);

        Plan plan = vacancy.plan(Selection.of("hive").key(2), ODILE);

        assertThat(plan.blockers()).singleElement().satisfies(blocker -> {
            assertThat(blocker.link().where()).isEqualTo("loan.hive");
            assertThat(blocker.reason()).isEqualTo("it is on loan");
            assertThat(blocker.count()).isEqualTo(1);
        });
        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(2), ODILE))
                .isInstanceOf(BlockedException.class);
        assertThat(dump(larkmoor)).isEqualTo(before);
    }

    @Test
    void blockedOnesAreLeftOutIfAskedFor() {
        Outcome outcome =
                over(RULES).delete(Selection.of("hive").keys(List.of(1, 2, 3)).skippingBlocked(), ODILE);

        assertThat(outcome.counts()).isEqualTo(Map.of("hive", 2L, "reading", 2L));
        assertThat(outcome.skipped())
                .singleElement()
                .satisfies(left -> assertThat(left.root().key().text()).isEqualTo("2"));
    }

    @Test
    void documentsAreFoundByAPropertyAndHandedBackWhole() {
        Outcome outcome = over(RULES)
                .delete(
                        Selection.of("hive")
                                .where(Criteria.parse("label = 'Alder'"))
                                .expecting(1),
                        ODILE);

        RecordContent deleted = outcome.deleted().get(0);
        assertThat(deleted.values().keySet()).containsExactly("_id", "label", "yard", "inspections");
        assertThat(deleted.values().get("inspections").toString()).contains("\"by\": \"odile\"");
    }

    @Test
    void anotherNumberThanExpectedIsRefused() {
        Vacancy vacancy = over(RULES);

        assertThatThrownBy(() -> vacancy.delete(
                        Selection.of("hive")
                                .where(Criteria.parse("yard = 'heath'"))
                                .expecting(1),
                        ODILE))
                .isInstanceOf(UnexpectedCountException.class);
        assertThat(dump(larkmoor).get("hive")).hasSize(3);
    }

    @Test
    void criteriaAskAboutParentsAndEmbeddedFields() {
        Vacancy vacancy = over(RULES);

        assertThat(keys(vacancy, "yard.name = 'Mill yard'")).containsExactly("3");
        assertThat(keys(vacancy, "inspections.by = 'odile'")).containsExactly("1");
        assertThat(keys(vacancy, "inspections is null")).containsExactly("2", "3");
        assertThat(keys(vacancy, "label like 'B%' or label like '_lover'")).containsExactly("2", "3");
        assertThat(keys(vacancy, "not (label = 'Birch')")).containsExactly("1", "3");
        assertThat(keys(vacancy, "inspections.on < '2026-06-01'")).containsExactly("1");
    }

    private static List<String> keys(Vacancy vacancy, String criteria) {
        return vacancy.list(Selection.of("hive").where(Criteria.parse(criteria)), ODILE, 10).stream()
                .map(record -> record.key().text())
                .toList();
    }

    @Test
    void valuesAreNeverOperators() {
        Vacancy vacancy = over(RULES);
        put(larkmoor, "hive", "{_id: 9, label: '{\"$gt\": \"\"}', yard: 'mill'}");

        assertThat(vacancy.list(
                        Selection.of("hive").where(Criteria.column("label").equalTo("{\"$gt\": \"\"}")), ODILE, 10))
                .extracting(record -> record.key().text())
                .containsExactly("9");
        assertThat(vacancy.list(
                        Selection.of("hive").where(Criteria.column("label").equalTo(new Document("$gt", ""))),
                        ODILE,
                        10))
                .isEmpty();
        assertThat(vacancy.list(Selection.of("hive").where(Criteria.parse("label like '.*'")), ODILE, 10))
                .isEmpty();
        assertThat(vacancy.plan(Selection.of("hive").key(new Document("$ne", 0)), ODILE)
                        .selected())
                .isZero();
    }

    @Test
    void anIdThatIsTextIsNotTheIdThatLooksLikeIt() {
        ObjectId id = new ObjectId("65f0a1b2c3d4e5f6a7b8c9d0");
        put(larkmoor, "queen", "{_id: {$oid: '" + id + "'}, name: 'Ada'}", "{_id: '" + id + "', name: 'Bea'}");
        Vacancy vacancy = over(RuleBook.bySchema());

        assertThat(name(vacancy, id)).isEqualTo("Ada");
        assertThat(name(vacancy, id.toHexString())).isEqualTo("Bea");
        assertThat(name(vacancy, "{\"$oid\": \"" + id + "\"}")).isEqualTo("Ada");
        Plan ada = vacancy.plan(Selection.of("queen").key(id), ODILE);
        vacancy.delete(Selection.of("queen").key(id), ODILE);
        assertThat(dump(larkmoor).get("queen")).singleElement().asString().contains("Bea");
        assertThatThrownBy(() -> vacancy.run(Approval.of(ada))).isInstanceOf(StalePlanException.class);
    }

    private static Object name(Vacancy vacancy, Object key) {
        return vacancy.plan(Selection.of("queen").key(key), ODILE)
                .roots()
                .get(0)
                .values()
                .get("name");
    }

    @Test
    void idsAreOfEveryTypeAndCompoundOnesInTheirOrder() {
        String[] ids = {
            "{$numberLong: '9007199254740993'}",
            "1.5",
            "{$numberDecimal: '2.50'}",
            "true",
            "{$date: '2026-05-31T12:30:00.123Z'}",
            "{$uuid: '018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10'}",
            "{$binary: {base64: 'AQID', subType: '00'}}",
            "{$binary: {base64: 'AQIDBAUGBwgJCgsMDQ4PEA==', subType: '03'}}",
            "{yard: 'heath', row: 4}",
            "{row: 4, yard: 'heath'}",
            "'plain'"
        };
        for (String id : ids) {
            put(larkmoor, "frame", "{_id: " + id + ", of: 'frame'}");
        }
        Vacancy vacancy = over(RuleBook.bySchema());

        for (int i = 0; i < ids.length; i++) {
            Object id = BsonDocument.parse("{v: " + ids[i] + "}").get("v");
            Outcome outcome = vacancy.delete(Selection.of("frame").key(id), ODILE);
            assertThat(outcome.counts()).as(ids[i]).isEqualTo(Map.of("frame", 1L));
            assertThat(dump(larkmoor).getOrDefault("frame", List.of()))
                    .as(ids[i])
                    .hasSize(ids.length - 1 - i);
        }
    }

    @Test
    void missingAndNullAreBothNoValueAndComeApartInWhatIsChanged() {
        put(larkmoor, "queen", "{_id: 1, hive: null}", "{_id: 2}", "{_id: 3, hive: 3}");
        Vacancy vacancy = over(RuleBook.bySchema().link("queen.hive", "hive").on("queen.hive", Clause.detach()));

        assertThat(vacancy.plan(Selection.of("queen").where(Criteria.parse("hive is null")), ODILE)
                        .selected())
                .isEqualTo(2);
        vacancy.delete(Selection.of("hive").key(3), ODILE);

        assertThat(dump(larkmoor).get("queen"))
                .containsExactly("{\"_id\": 1, \"hive\": null}", "{\"_id\": 2}", "{\"_id\": 3}");
    }

    @Test
    void aSoftDeletedDocumentIsMarkedAndStays() {
        Vacancy vacancy = over(RuleBook.bySchema()
                .link("reading.hive", "hive")
                .on("reading.hive", Clause.keep())
                .marker("hive", Marker.timestamp("left.at"))
                .soft("hive", SoftDelete.defaults().deletedBy("left.by", "left.because")));

        Outcome outcome = vacancy.delete(Selection.of("hive").key(3), ODILE);

        assertThat(outcome.marked()).containsExactly("hive");
        BsonDocument hive = larkmoor.getCollection("hive", BsonDocument.class)
                .find(new Document("_id", 3))
                .first();
        assertThat(hive.getDocument("left").getDateTime("at").getValue()).isPositive();
        assertThat(hive.getDocument("left").getString("by").getValue()).isEqualTo("odile");
        assertThat(vacancy.plan(Selection.of("hive").key(3), ODILE).alreadyDeleted())
                .hasSize(1);
    }

    @Test
    void childrenInElementsOfAnArrayAreHandedOver() {
        put(larkmoor, "plan", "{_id: 1, visits: [{hive: 1, on: 'May'}, {hive: 3, on: 'June'}], version: 4}");
        Vacancy vacancy = over(RULES.link("plan.visits.hive", "hive")
                .on("plan.visits.hive", Clause.reassign())
                .versionColumn("plan.version"));

        vacancy.delete(Selection.of("hive").key(1).reassigning("plan.visits.hive", 2), ODILE);

        assertThat(dump(larkmoor).get("plan"))
                .containsExactly(
                        "{\"_id\": 1, \"visits\": [{\"hive\": 2, \"on\": \"May\"}, {\"hive\": 3, \"on\": \"June\"}],"
                                + " \"version\": 5}");
    }

    @Test
    void theWholeElementGoesInWhichADocumentRefersToWhatGoes() {
        put(
                larkmoor,
                "visit",
                "{_id: 1, rounds: [{hive: 1, note: 'calm'}, {hive: 2, stops: [{hive: 1}, {hive: 3}]}, {note: 'rain'}]}",
                "{_id: 2, rounds: {hive: 1, note: 'one'}}",
                "{_id: 3, rounds: [{hive: [1, 2]}]}");
        RuleBook rules = RuleBook.bySchema()
                .link("visit.rounds.hive", "hive")
                .on("visit.rounds.hive", Clause.detach().takingElement())
                .link("visit.rounds.stops.hive", "hive")
                .on("visit.rounds.stops.hive", Clause.detach().takingElement())
                .trail(Trail.defaults());
        List<String> before = dump(larkmoor).get("visit");

        Outcome outcome = over(rules).delete(Selection.of("hive").key(1), ODILE);

        assertThat(dump(larkmoor).get("visit"))
                .containsExactly(
                        "{\"_id\": 1, \"rounds\": [{\"hive\": 2, \"stops\": [{\"hive\": 3}]}, {\"note\": \"rain\"}]}",
                        "{\"_id\": 2, \"rounds\": {\"note\": \"one\"}}",
                        "{\"_id\": 3, \"rounds\": [{\"hive\": [2]}]}");
        Vacancy vacancy = over(rules);
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(outcome.runId(), ODILE)));
        assertThat(dump(larkmoor).get("visit")).containsExactlyElementsOf(before);
    }

    @Test
    void anElementIsOnlyTakenWhereThereCanBeOne() {
        assertThatThrownBy(() -> over(RuleBook.bySchema()
                        .link("photo.hives", "hive")
                        .on("photo.hives", Clause.detach().takingElement())))
                .hasMessageContaining("the field isn't in an embedded document");
        assertThatThrownBy(() -> Clause.cascade().takingElement())
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("and not one that says cascade");
    }

    @Test
    void documentsThatReferToEmbeddedOnesGoWithTheWhole() {
        put(larkmoor, "colony", "{_id: 1, queens: [{no: 7}, {no: 8}]}", "{_id: 2, queens: [{no: 9}]}");
        put(larkmoor, "sighting", "{_id: 1, queen: 8}", "{_id: 2, queen: 9}");
        Vacancy vacancy = over(
                RuleBook.bySchema().link("sighting.queen", "colony.queens.no").on("sighting.queen", Clause.cascade()));

        Outcome outcome = vacancy.delete(Selection.of("colony").key(1), ODILE);

        assertThat(outcome.counts()).isEqualTo(Map.of("colony", 1L, "sighting", 1L));
        assertThat(dump(larkmoor).get("sighting")).containsExactly("{\"_id\": 2, \"queen\": 9}");
    }

    @Test
    void whatRefersToItselfGoesToItsLastGenerationAndCirclesAreNoHindrance() {
        put(
                larkmoor,
                "colony",
                "{_id: 1, from: 4}",
                "{_id: 2, from: 1}",
                "{_id: 3, from: 2}",
                "{_id: 4, from: 3}",
                "{_id: 5, from: 9}");
        Vacancy vacancy = over(RuleBook.bySchema().link("colony.from", "colony").on("colony.from", Clause.cascade()));

        assertThat(vacancy.delete(Selection.of("colony").key(2), ODILE).counts())
                .isEqualTo(Map.of("colony", 4L));
        assertThat(dump(larkmoor).get("colony")).containsExactly("{\"_id\": 5, \"from\": 9}");
    }

    @Test
    void aParentGoesWithTheLastThatRefersToIt() {
        put(larkmoor, "label", "{_id: 'a'}", "{_id: 'b'}");
        put(larkmoor, "jar", "{_id: 1, label: 'a'}", "{_id: 2, label: 'a'}", "{_id: 3, label: 'b'}");
        Vacancy vacancy = over(RuleBook.bySchema()
                .link("jar.label", "label")
                .on("jar.label", Clause.block("it stands there"))
                .ownedParents("jar.label"));

        assertThat(vacancy.delete(Selection.of("jar").keys(List.of(1, 3)), ODILE)
                        .counts())
                .isEqualTo(Map.of("jar", 2L, "label", 1L));
        assertThat(dump(larkmoor).get("label")).containsExactly("{\"_id\": \"a\"}");
    }

    @Test
    void whatWasAgreedToIsHeldAgainstTheDocumentsAsTheyAre() {
        Vacancy vacancy = over(RULES);
        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);
        larkmoor.getCollection("hive")
                .updateOne(new Document("_id", 1), new Document("$set", new Document("note", "kept")));
        Map<String, List<String>> before = dump(larkmoor);

        assertThatThrownBy(() -> vacancy.run(Approval.of(plan))).isInstanceOf(StalePlanException.class);

        assertThat(dump(larkmoor)).isEqualTo(before);
    }

    @Test
    void aNumberThatBecomesTextIsAChange() {
        Vacancy vacancy = over(RULES);
        put(larkmoor, "hive", "{_id: 7, label: 'Dill', frames: 1}");
        Plan plan = vacancy.plan(Selection.of("hive").key(7), ODILE);
        larkmoor.getCollection("hive")
                .updateOne(new Document("_id", 7), new Document("$set", new Document("frames", "1")));

        assertThatThrownBy(() -> vacancy.run(Approval.of(plan))).isInstanceOf(StalePlanException.class);
    }

    @Test
    void peopleAreAskedAsTheRulesSay() {
        Vacancy vacancy = over(RULES.consent("hive", ConsentRule.atLeast(Consent.NUMBER)));
        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);

        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refused -> assertThat(refused.code()).isEqualTo(FailureCode.NOT_AGREED));
        assertThat(Question.about(plan).answer("no")).isEmpty();
        assertThat(vacancy.run(Question.about(plan).answer("3").orElseThrow()).counts())
                .containsEntry("hive", 1L);
    }

    @Test
    void anApprovalIsOfOneDatabase() {
        Plan plan = over(RULES).plan(Selection.of("hive").key(1), ODILE);
        MongoDatabase other = server().database();
        dump(larkmoor).forEach((collection, documents) -> put(other, collection, documents.toArray(String[]::new)));

        assertThatThrownBy(() -> Documents.over(server().client(), other.getName(), RULES)
                        .run(Approval.of(plan)))
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refused -> assertThat(refused.code()).isEqualTo(FailureCode.APPROVAL_OF_ANOTHER));
        assertThat(dump(other).get("hive")).hasSize(3);
    }

    @Test
    void aCriteriaOfNobodyAndAFieldThatIsMisspeltAreTold() {
        Vacancy vacancy = over(RULES);

        assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").where(Criteria.parse("lable = 'Alder'")), ODILE))
                .hasMessageContaining("no column 'lable'")
                .hasMessageContaining("label");
        assertThatThrownBy(() -> vacancy.plan(Selection.of("reading").where(Criteria.parse("kilos = 'heavy'")), ODILE))
                .hasMessageContaining("reading.kilos is double or int as far as was seen, which 'heavy' is not");
        assertThatThrownBy(() -> over(RuleBook.bySchema().link("reading.hive", "hive")))
                .isInstanceOf(RulesException.class);
    }

    @Test
    void aUuidOfTheOlderSubtypeIsFoundInTheOrderThatTheClientWrites() {
        UUID id = UUID.fromString("018f6d2a-7f0e-7b1c-9d52-3c0c3f3a5b10");
        for (UuidRepresentation order : List.of(
                UuidRepresentation.JAVA_LEGACY, UuidRepresentation.C_SHARP_LEGACY, UuidRepresentation.STANDARD)) {
            MongoClientSettings settings = MongoClientSettings.builder()
                    .applyConnectionString(new ConnectionString(server().address()))
                    .uuidRepresentation(order)
                    .build();
            try (MongoClient client = MongoClients.create(settings)) {
                client.getDatabase(larkmoor.getName())
                        .getCollection("box")
                        .insertOne(new Document("_id", id).append("of", id));
                Vacancy vacancy = Documents.over(client, larkmoor.getName(), RuleBook.bySchema());

                assertThat(vacancy.plan(Selection.of("box").key(id), ODILE).selected())
                        .as(order.toString())
                        .isEqualTo(1);
                Selection of = Selection.of("box").where(Criteria.column("of").equalTo(id.toString()));
                assertThat(vacancy.delete(of, ODILE).total())
                        .as(order.toString())
                        .isEqualTo(1);
            }
        }
    }

    @Test
    void whatIsNotOfferedOnDocumentsIsRefused() {
        Vacancy vacancy = over(RULES);

        assertThatThrownBy(() -> vacancy.trace("hive", 1)).satisfies(DocumentsTest::isNotOffered);
        assertThatThrownBy(() -> over(RULES.trail(Trail.defaults())).history().mask("Alder", ODILE))
                .satisfies(DocumentsTest::isNotOffered);
    }

    private static void isNotOffered(Throwable refused) {
        assertThat(((VacancyException) refused).code()).isEqualTo(FailureCode.NOT_OFFERED);
        assertThat(refused).hasMessageContaining("relational databases only");
    }

    @Test
    void ofManyWhoRunTheSameOnlyOneDoes() throws Exception {
        Vacancy vacancy = over(RULES);
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));
        AtomicInteger done = new AtomicInteger();
        AtomicInteger refused = new AtomicInteger();

        List<Thread> threads = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            Thread thread = new Thread(() -> {
                try {
                    vacancy.run(approval);
                    done.incrementAndGet();
                } catch (StalePlanException stale) {
                    refused.incrementAndGet();
                }
            });
            threads.add(thread);
            thread.start();
        }
        for (Thread thread : threads) {
            thread.join();
        }

        assertThat(done).hasValue(1);
        assertThat(refused).hasValue(7);
        assertThat(dump(larkmoor)).containsOnlyKeys("hive", "loan", "photo", "reading", "yard");
        assertThat(dump(larkmoor).get("hive")).hasSize(2).noneMatch(hive -> hive.contains("Alder"));
        assertThat(dump(larkmoor).get("photo")).contains("{\"_id\": \"p1\", \"hives\": [2]}");
    }

    @Test
    void oddNamesAreNoHindrance() {
        put(larkmoor, "jar", "{_id: 1, 'c$d': 2, '': 3}");
        Vacancy vacancy = over(RuleBook.bySchema());

        assertThat(vacancy.delete(Selection.of("jar").key(1), ODILE).counts()).isEqualTo(Map.of("jar", 1L));
    }

    @Test
    void aDocumentThatSeveralStepsChangeIsChangedOnce() {
        put(larkmoor, "swap", "{_id: 1, from: 1, to: [1, 2], at: 'heath', version: 1}", "{_id: 2, from: 2, to: [1]}");
        Vacancy vacancy = over(RuleBook.bySchema()
                .link("swap.from", "hive")
                .on("swap.from", Clause.detach())
                .link("swap.to", "hive")
                .on("swap.to", Clause.detach())
                .versionColumn("swap.version"));

        vacancy.delete(Selection.of("hive").key(1), ODILE);

        assertThat(dump(larkmoor).get("swap"))
                .containsExactly(
                        "{\"_id\": 1, \"to\": [2], \"at\": \"heath\", \"version\": 3}",
                        "{\"_id\": 2, \"from\": 2, \"to\": [], \"version\": 1}");
    }

    @Test
    void whatWasSoftDeletedIsPurgedOnceItsTimeIsOver() {
        RuleBook rules = RuleBook.bySchema()
                .marker("loan", Marker.timestamp("endedAt"))
                .soft("loan", SoftDelete.defaults().keptFor(Period.ofDays(15)));
        over(rules).delete(Selection.of("loan").key("l1"), ODILE);
        Clock later = Clock.offset(Clock.systemUTC(), Duration.ofDays(17));
        Vacancy inTwoWeeks = Documents.over(server().client(), larkmoor.getName(), rules, later);

        assertThat(over(rules).plan(over(rules).pastRetention("loan"), ODILE).selected())
                .isZero();
        assertThat(inTwoWeeks.delete(inTwoWeeks.pastRetention("loan"), ODILE).counts())
                .isEqualTo(Map.of("loan", 1L));
        assertThat(dump(larkmoor)).doesNotContainKey("loan");
    }

    @Test
    void whatIsStoredIsNeverAPattern() {
        put(
                larkmoor,
                "tag",
                "{_id: 1, code: {$regularExpression: {pattern: '.*', options: ''}}}",
                "{_id: 2, code: 'b'}");
        put(larkmoor, "jar", "{_id: 1, tag: 'a'}", "{_id: 2, tag: 'b'}");
        Vacancy vacancy = over(RuleBook.bySchema().link("jar.tag", "tag.code").on("jar.tag", Clause.cascade()));

        assertThat(vacancy.delete(Selection.of("tag").keys(List.of(1, 2)), ODILE)
                        .counts())
                .isEqualTo(Map.of("tag", 2L, "jar", 1L));
        assertThat(dump(larkmoor).get("jar")).containsExactly("{\"_id\": 1, \"tag\": \"a\"}");
    }

    @Test
    void anArrayWithinAnArrayIsNotLookedInto() {
        put(larkmoor, "grid", "{_id: 1, hives: [[1, 2], 1, 3]}");
        Vacancy vacancy = over(RuleBook.bySchema().link("grid.hives", "hive").on("grid.hives", Clause.detach()));

        assertThat(vacancy.delete(Selection.of("hive").key(1), ODILE).changed()).isEqualTo(Map.of("grid.hives", 1L));
        assertThat(dump(larkmoor).get("grid")).containsExactly("{\"_id\": 1, \"hives\": [[1, 2], 3]}");
    }

    @Test
    void nobodySelectsByNull() {
        Vacancy vacancy = over(RULES);

        assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").key(BsonNull.VALUE), ODILE))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refused -> assertThat(refused.code()).isEqualTo(FailureCode.MISSING_VALUE));
    }
}
