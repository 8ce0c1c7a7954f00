package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;

import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.history.History;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.bson.types.ObjectId;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Larkmoor as documents: what the guide shows of them. */
class LarkmoorDocumentsTest {
    private final MongoClient client = DocumentServer.PLAIN.client();
    private final ObjectId id = new ObjectId("65f0a1b2c3d4e5f6a7b8c9d0");
    private MongoDatabase larkmoor;
    private String database;

    @BeforeEach
    void fill() {
        larkmoor = DocumentServer.PLAIN.database();
        database = larkmoor.getName();
        String hive = "{$oid: '" + id + "'}";
        put(larkmoor, "keeper", "{_id: 1, name: 'Odile'}", "{_id: 2, name: 'Ansel'}");
        put(
                larkmoor,
                "hive",
                "{_id: " + hive + ", name: 'Bramble Three', keeper: 1, inspections: [{by: 2, queen: true}, {by: 1}]}",
                "{_id: {$oid: '65f0a1b2c3d4e5f6a7b8c9d1'}, name: 'Bramble Four', keeper: 2}");
        put(larkmoor, "reading", "{hive: " + hive + ", kilos: 31.5}", "{hive: " + hive + ", kilos: 31.25}");
        put(
                larkmoor,
                "photo",
                "{file: 'p-1.jpg', hives: [" + hive + ", {$oid: '65f0a1b2c3d4e5f6a7b8c9d1'}]}",
                "{file: 'p-2.jpg', hives: [" + hive + "]}");
    }

    private RuleBook rules() {
        RuleBook rules = RuleBook.bySchema()
                .link("reading.hive", "hive")
                .on("reading.hive", Clause.cascade())
                .link("photo.hives", "hive")
                .on("photo.hives", Clause.detach())
                .link("hive.keeper", "keeper")
                .on("hive.keeper", Clause.block("somebody has to look after it"))
                .link("hive.inspections.by", "keeper")
                .on("hive.inspections.by", Clause.keep("an inspection is never rewritten"));
        return rules;
    }

    @Test
    void aHiveGoesWithAllThatRefersToIt() {
        RuleBook rules = rules();
        Vacancy vacancy = Documents.over(client, database, rules);

        Plan plan = vacancy.plan(Selection.of("hive").key(id), By.user("odile").because("colony lost"));
        Outcome outcome = vacancy.run(Question.about(plan).answer("yes").orElseThrow());

        assertThat(outcome.counts()).isEqualTo(Map.of("hive", 1L, "reading", 2L));
        assertThat(larkmoor.getCollection("photo")
                        .find()
                        .map(photo -> photo.getList("hives", ObjectId.class).size()))
                .containsExactlyInAnyOrder(1, 0);
    }

    @Test
    void itIsFoundByAPropertyAndHandedBackWhole() {
        Vacancy vacancy = Documents.over(client, database, rules());

        Outcome outcome = vacancy.delete(
                Selection.of("hive")
                        .where(Criteria.column("name").equalTo("Bramble Three"))
                        .expecting(1),
                By.program("nightly"));
        RecordContent hive = outcome.deleted().get(0);

        assertThat(hive.values()).containsEntry("name", "Bramble Three").containsKey("inspections");
        assertThat(hive.key().text()).isEqualTo(id.toHexString());
    }

    @Test
    void aKeeperIsMarkedAndStays() {
        RuleBook rules = RuleBook.bySchema()
                .marker("keeper", Marker.timestamp("left.at"))
                .soft("keeper", SoftDelete.defaults().deletedBy("left.by", "left.because"));
        Vacancy vacancy = Documents.over(client, database, rules);

        Outcome outcome =
                vacancy.delete(Selection.of("keeper").key(2), By.user("odile").because("moved away"));

        assertThat(outcome.marked()).containsExactly("keeper");
        assertThat(larkmoor.getCollection("keeper")
                        .find()
                        .into(new ArrayList<>())
                        .toString())
                .contains("because=moved away");
    }

    @Test
    void whatFollowsIsToldOutside() {
        List<String> index = new ArrayList<>(List.of(id.toHexString()));
        RuleBook rules = RuleBook.bySchema()
                .link("reading.hive", "hive")
                .on("reading.hive", Clause.cascade())
                .trail(Trail.defaults())
                .followUp("hive", FollowUp.named("search").columns("name", "yard.map"));
        Vacancy vacancy = Documents.over(client, database, rules);
        vacancy.delete(Selection.of("hive").key(id), By.program("nightly"));

        vacancy.withFollowUp("search", message -> index.remove(message.key().orElseThrow()))
                .followUps()
                .work();

        assertThat(index).isEmpty();
    }

    @Test
    void whatWentComesBackFromTheTrail() {
        Vacancy vacancy = Documents.over(client, database, rules().trail(Trail.defaults()));
        Outcome outcome =
                vacancy.delete(Selection.of("hive").key(id), By.user("odile").because("colony lost"));

        RestorePlan plan = vacancy.history().planRestore(outcome.runId(), By.user("ansel"));
        vacancy.history().restore(Approval.of(plan));

        assertThat(plan.putBack()).isEqualTo(Map.of("photo.hives", 2L));
        assertThat(larkmoor.getCollection("hive").countDocuments()).isEqualTo(2);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void whatIsWrongOrMissingIsFound() {
        put(larkmoor, "reading", "{hive: '" + id + "', kilos: 30}", "{hive: {$oid: '65f0a1b2c3d4e5f6a7b8c9ff'}}");

        RuleBook rules = RuleBook.bySchema()
                .link("reading.hive", "hive")
                .on("reading.hive", Clause.cascade())
                .link("photo.file", "hive")
                .on("photo.file", Clause.cascade());

        List<Finding> findings = Documents.check(client, database, rules);

        assertThat(findings)
                .extracting(finding -> finding.kind() + " " + finding.where())
                .containsExactlyInAnyOrder(
                        Finding.Kind.NO_INDEX + " reading.hive",
                        Finding.Kind.ORPHANS + " reading.hive",
                        Finding.Kind.LINK_TYPES + " photo.file",
                        Finding.Kind.NO_INDEX + " photo.file",
                        Finding.Kind.ORPHANS + " photo.file",
                        Finding.Kind.PERHAPS_LINK + " hive.keeper",
                        Finding.Kind.PERHAPS_LINK + " photo.hives");
        assertThat(findings)
                .filteredOn(finding -> finding.kind() == Finding.Kind.ORPHANS)
                .first()
                .satisfies(
                        finding -> assertThat(finding.why()).isEqualTo("2 documents refer to a hive that isn't there"));
        assertThat(findings)
                .filteredOn(finding -> finding.where().equals("photo.hives"))
                .singleElement()
                .satisfies(
                        finding -> assertThat(finding.why())
                                .contains(
                                        "all 2 values read from it (array of objectId, seen in 2 of 2 documents) are ids of hive"));
    }

    @Test
    void whatIsToldIsErasedAndPruned() {
        By by = By.user("odile").because("asked to");
        Vacancy vacancy = Documents.over(client, database, rules().trail(Trail.defaults()));
        vacancy.delete(Selection.of("hive").key(id), by);

        History history = vacancy.history();
        history.erase(Approval.of(history.planErasure("hive", id.toHexString(), by)));
        history.prune(Instant.parse("2020-01-01T00:00:00Z"), by);

        assertThat(history.verify(Optional.empty()).erased()).isEqualTo(5);
    }

    @Test
    void manyGoInChunks() {
        Vacancy vacancy = Documents.over(client, database, rules().trail(Trail.defaults()));
        Plan plan = vacancy.plan(Selection.of("hive").allRecords(), By.user("odile"));

        BulkRuns bulk = vacancy.bulk();
        UUID run = bulk.start(Approval.inChunks(plan), BulkOptions.defaults()).runId();
        BulkRun done = bulk.work(run);

        assertThat(done.done()).isEqualTo(2);
    }
}
