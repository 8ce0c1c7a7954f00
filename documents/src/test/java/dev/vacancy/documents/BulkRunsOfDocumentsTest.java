package dev.vacancy.documents;

import static dev.vacancy.documents.DocumentServer.put;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.bson.Document;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Bulk runs of documents: chunk by chunk, by one or several, until each was dealt with. */
class BulkRunsOfDocumentsTest {
    /** Where the documents are. */
    DocumentServer server() {
        return DocumentServer.PLAIN;
    }

    private static final By ODILE = By.user("odile").because("the yard closes");
    private static final Selection EAST = Selection.of("hive").where(Criteria.parse("yard = 'east'"));
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("reading.hive", "hive")
            .on("reading.hive", Clause.cascade())
            .link("loan.hive", "hive")
            .on("loan.hive", Clause.block("it is on loan"))
            .link("photo.hives", "hive")
            .on("photo.hives", Clause.detach())
            .trail(Trail.defaults());

    private MongoDatabase larkmoor;
    private Vacancy vacancy;

    @BeforeEach
    void fill() {
        larkmoor = server().database();
        List<Document> hives = new ArrayList<>();
        List<Document> readings = new ArrayList<>();
        for (int id = 1; id <= 60; id++) {
            hives.add(new Document("_id", id).append("yard", id <= 50 ? "east" : "west"));
            readings.add(new Document("_id", id).append("hive", id));
        }
        larkmoor.getCollection("hive").insertMany(hives);
        larkmoor.getCollection("reading").insertMany(readings);
        put(larkmoor, "loan", "{_id: 1, hive: 60}");
        put(larkmoor, "photo", "{_id: 'none', hives: []}");
        vacancy = Documents.over(server().client(), larkmoor.getName(), RULES);
    }

    private long count(String collection) {
        return larkmoor.getCollection(collection).countDocuments();
    }

    private BulkRun begun(BulkOptions options) {
        return vacancy.bulk().start(Approval.inChunks(vacancy.plan(EAST, ODILE)), options);
    }

    @Test
    void allGoInChunksAndEachIsToldOnce() {
        List<BulkRun> progress = new ArrayList<>();
        List<RecordContent> told = new ArrayList<>();
        BulkRun begun = begun(BulkOptions.defaults().named("east").chunk(20));
        assertThat(count("hive")).isEqualTo(60);

        BulkRun done = vacancy.bulk()
                .work(begun.runId(), BulkOptions.defaults().chunk(20), Exemption.none(), new BulkListener() {
                    @Override
                    public void progressed(BulkRun run) {
                        progress.add(run);
                    }

                    @Override
                    public void deleted(List<RecordContent> records) {
                        told.addAll(records);
                    }
                });

        assertThat(begun.records()).isEqualTo(50);
        assertThat(progress).extracting(BulkRun::done).containsExactly(20L, 40L, 50L);
        assertThat(told)
                .extracting(record -> record.key().text())
                .doesNotHaveDuplicates()
                .hasSize(50);
        assertThat(done.state()).isEqualTo(BulkState.DONE);
        assertThat(done.name()).isEqualTo("east");
        assertThat(done.by()).isEqualTo(ODILE);
        assertThat(done.deleted()).isEqualTo(100);
        assertThat(done.endedAt()).isPresent();
        assertThat(count("hive")).isEqualTo(10);
        assertThat(count("reading")).isEqualTo(10);
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .hasSize(3)
                .allSatisfy(run -> assertThat(run.partOf()).contains(begun.runId()));
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void aBulkRunIsUndoneAsAWhole() {
        UUID run = begun(BulkOptions.defaults()).runId();
        vacancy.bulk().work(run, BulkOptions.defaults().chunk(15), Exemption.none(), progress -> {});

        RestoreOutcome back =
                vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));

        assertThat(back.counts()).isEqualTo(Map.of("hive", 50L, "reading", 50L));
        assertThat(count("hive")).isEqualTo(60);
    }

    @Test
    void whatIsBlockedIsTriedOnceMoreAndThenLeftAndNamed() {
        put(larkmoor, "loan", "{_id: 2, hive: 7}", "{_id: 3, hive: 8}");
        UUID run = vacancy.bulk()
                .start(EAST, By.program("nightly"), BulkOptions.defaults())
                .runId();
        BulkRuns bulk = vacancy.bulk();
        boolean more = bulk.workChunk(run, BulkOptions.defaults().chunk(50), Exemption.none(), progress -> {});
        assertThat(more).isTrue();
        assertThat(bulk.run(run).done()).isEqualTo(48);
        larkmoor.getCollection("loan").deleteOne(new Document("_id", 3));

        BulkRun done = bulk.work(run);

        assertThat(done.done()).isEqualTo(49);
        assertThat(done.failed()).isEqualTo(1);
        assertThat(done.state()).isEqualTo(BulkState.DONE);
        assertThat(bulk.failures(run, 10)).singleElement().satisfies(left -> {
            assertThat(left.key()).isEqualTo("7");
            assertThat(left.failed()).isTrue();
            assertThat(left.reason()).contains("it is on loan");
        });
    }

    @Test
    void whatHasGoneOrStoppedMatchingIsSkipped() {
        UUID run = begun(BulkOptions.defaults()).runId();
        larkmoor.getCollection("hive").deleteOne(new Document("_id", 3));
        larkmoor.getCollection("hive")
                .updateOne(new Document("_id", 4), new Document("$set", new Document("yard", "west")));

        BulkRun done = vacancy.bulk().work(run);

        assertThat(done.done()).isEqualTo(48);
        assertThat(done.skipped()).isEqualTo(2);
        assertThat(done.open()).isZero();
        assertThat(vacancy.bulk().failures(run, 10))
                .extracting(FailedRecord::reason)
                .containsExactly("it wasn't there any more", "it has stopped matching since the run began");
        assertThat(larkmoor.getCollection("hive").countDocuments(new Document("_id", 4)))
                .isEqualTo(1);
    }

    @Test
    void itStopsAtTheFirstFailureIfAskedAndGoesOn() {
        put(larkmoor, "loan", "{_id: 2, hive: 7}");
        BulkOptions stopping = BulkOptions.defaults().chunk(10).stoppingAtFailure();
        UUID run = vacancy.bulk().start(EAST, By.program("nightly"), stopping).runId();

        BulkRun stopped = vacancy.bulk().work(run, stopping, Exemption.none(), progress -> {});
        assertThat(stopped.state()).isEqualTo(BulkState.STOPPED);
        assertThat(stopped.done()).isEqualTo(9);
        assertThat(stopped.failed()).isEqualTo(1);

        vacancy.bulk().resume(run);
        assertThat(vacancy.bulk().work(run).done()).isEqualTo(49);
    }

    @Test
    void itIsPausedResumedAndCancelled() {
        BulkRuns bulk = vacancy.bulk();
        UUID run = begun(BulkOptions.defaults()).runId();
        bulk.workChunk(run, BulkOptions.defaults().chunk(10), Exemption.none(), progress -> {});

        assertThat(bulk.pause(run).state()).isEqualTo(BulkState.PAUSED);
        assertThat(bulk.work(run).done()).isEqualTo(10);
        assertThat(bulk.resume(run).state()).isEqualTo(BulkState.RUNNING);
        assertThat(bulk.cancel(run).state()).isEqualTo(BulkState.CANCELLED);
        assertThat(bulk.work(run).done()).isEqualTo(10);
        assertThat(count("hive")).isEqualTo(50);
        assertThatThrownBy(() -> bulk.resume(run))
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refused -> assertThat(refused.code()).isEqualTo(FailureCode.RUN_STATE));
        assertThat(bulk.list(BulkState.CANCELLED)).extracting(BulkRun::runId).containsExactly(run);
        assertThatThrownBy(() -> bulk.run(UUID.randomUUID())).hasMessageContaining("There is no bulk run");
    }

    @Test
    void severalWorkersShareIt() throws Exception {
        StringBuilder all = new StringBuilder("1");
        for (int id = 2; id <= 60; id++) {
            all.append(", ").append(id);
        }
        put(larkmoor, "photo", "{_id: 'all', hives: [" + all + "]}");
        UUID run = begun(BulkOptions.defaults()).runId();
        List<String> told = Collections.synchronizedList(new ArrayList<>());
        ExecutorService pool = Executors.newFixedThreadPool(4);
        List<Future<?>> workers = new ArrayList<>();
        for (int i = 0; i < 4; i++) {
            workers.add(pool.submit(() -> Documents.over(server().client(), larkmoor.getName(), RULES)
                    .bulk()
                    .work(run, BulkOptions.defaults().chunk(3), Exemption.none(), new BulkListener() {
                        @Override
                        public void progressed(BulkRun now) {}

                        @Override
                        public void deleted(List<RecordContent> records) {
                            records.forEach(record -> told.add(record.key().text()));
                        }
                    })));
        }
        for (Future<?> worker : workers) {
            worker.get();
        }
        pool.shutdown();

        BulkRun done = vacancy.bulk().run(run);
        assertThat(done.state()).isEqualTo(BulkState.DONE);
        assertThat(done.done()).isEqualTo(50);
        assertThat(done.failed()).isZero();
        assertThat(done.deleted()).isEqualTo(100);
        assertThat(larkmoor.getCollection("photo")
                        .find(new Document("_id", "all"))
                        .first()
                        .getList("hives", Integer.class))
                .hasSize(10);
        assertThat(told).doesNotHaveDuplicates().hasSize(50);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @Test
    void otherRecordsThanWereAgreedToArentBegunWith() {
        Approval approval = Approval.inChunks(vacancy.plan(EAST, ODILE));
        put(larkmoor, "hive", "{_id: 99, yard: 'east'}");

        assertThatThrownBy(() -> vacancy.bulk().start(approval, BulkOptions.defaults()))
                .isInstanceOf(StalePlanException.class);
        assertThat(vacancy.bulk().list()).isEmpty();
        assertThat(count("vacancy_bulk_record")).isZero();
        assertThat(vacancy.bulk()
                        .start(approval, BulkOptions.defaults().tolerating(1))
                        .records())
                .isEqualTo(51);
    }

    @Test
    void idsOfEachTypeAreKept() {
        put(
                larkmoor,
                "swarm",
                "{_id: '1'}",
                "{_id: 1}",
                "{_id: {a: 1, b: '2'}}",
                "{_id: {$oid: '65f0a1b2c3d4e5f6a7b8c9d0'}}",
                "{_id: {$numberDecimal: '2.50'}}",
                "{_id: {$date: 1780000000000}}",
                "{_id: true}");
        vacancy = Documents.over(server().client(), larkmoor.getName(), RULES);
        UUID run = vacancy.bulk()
                .start(Selection.of("swarm").allRecords(), By.program("nightly"), BulkOptions.defaults())
                .runId();

        assertThat(vacancy.bulk().work(run).done()).isEqualTo(7);
        assertThat(count("swarm")).isZero();
    }

    @Test
    void moreThanIsToGoAtOnceIsTakenApart() {
        UUID run = begun(BulkOptions.defaults()).runId();

        vacancy.bulk()
                .work(run, BulkOptions.defaults().chunk(16).maxPerTransaction(9), Exemption.none(), progress -> {});

        assertThat(vacancy.bulk().run(run).done()).isEqualTo(50);
        assertThat(vacancy.history().runs(HistoryQuery.all().atMost(100)))
                .hasSizeGreaterThan(12)
                .allSatisfy(part -> assertThat(part.counts().values().stream()
                                .mapToLong(Long::longValue)
                                .sum())
                        .isLessThanOrEqualTo(9));
    }

    @Test
    void anExemptionNeedsAConnection() {
        BulkOptions exempting =
                BulkOptions.defaults().exempting(Exemption.named("on loan", (record, connection) -> Optional.empty()));

        assertThatThrownBy(() -> begun(exempting)).hasMessageContaining("offered on relational databases only");
    }
}
