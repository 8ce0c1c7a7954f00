package dev.vacancy.bulk;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.JsonForm;
import dev.vacancy.Limits;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.OnEveryEngineButSqlite;
import java.sql.Connection;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Large deletions in chunks: each of the selected records is dealt with once, and none but them. */
class BulkRunsTest {
    private static final By ODILE = By.user("odile").because("too old");
    private static final Selection OLD = Selection.of("hive").where(Criteria.parse("name = 'old'"));
    private static final Exemption ALL_GO = Exemption.none();

    @OnEveryEngine
    void allSelectedRecordsGoInChunks(Engine engine) {
        Database database = Readings.of(engine, 300);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        List<Long> done = new ArrayList<>();

        BulkRun run = runs.start(
                Approval.inChunks(vacancy.plan(OLD, ODILE)),
                BulkOptions.defaults().named("old hives"));
        database.run("insert into hive values (500, 'old')");
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults().chunk(70), ALL_GO, each -> done.add(each.done()));

        assertThat(run.records()).isEqualTo(300);
        assertThat(done).startsWith(70L, 140L, 210L, 280L, 300L);
        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.done()).isEqualTo(300);
        assertThat(end.deleted()).isEqualTo(300 + 600 + 300);
        assertThat(end.endedAt()).isPresent();
        assertThat(end.by()).isEqualTo(ODILE);
        assertThat(database.rows("select hive_id from hive order by 1")).containsExactly("500", "90001");
        assertThat(database.rows("select inspection_id from inspection")).containsExactly("990001");
        assertThat(runs.list()).extracting(BulkRun::name).containsExactly("old hives");
        assertThat(JsonForm.of(end)).containsEntry("state", "done");
    }

    @OnEveryEngine
    void whatFailsIsNotedAndTriedAgainAtTheEnd(Engine engine) {
        Database database = Readings.of(engine, 60);
        database.run("insert into batch values (1, 17), (2, 42)");
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);

        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults().chunk(25), ALL_GO, each -> {
            if (each.failed() == 2) {
                database.run("delete from batch where batch_id = 2");
            }
        });

        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.done()).isEqualTo(59);
        assertThat(end.failed()).isEqualTo(1);
        assertThat(end.open()).isZero();
        assertThat(runs.failures(run.runId(), 10)).singleElement().satisfies(left -> {
            assertThat(left.key()).isEqualTo("17");
            assertThat(left.failed()).isTrue();
            assertThat(left.reason()).contains("batch.hive_id");
        });
        assertThat(database.rows("select hive_id from hive order by 1")).containsExactly("17", "90001");
    }

    @OnEveryEngine
    void whatHasStoppedMatchingIsLeftAndTold(Engine engine) {
        Database database = Readings.of(engine, 20);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);

        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());
        database.run("update hive set name = 'kept' where hive_id in (3, 4)");
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults().chunk(7), ALL_GO, each -> {});

        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(List.of(end.done(), end.skipped(), end.failed())).containsExactly(18L, 2L, 0L);
        assertThat(runs.failures(run.runId(), 10)).extracting(FailedRecord::key).containsExactly("3", "4");
        assertThat(runs.failures(run.runId(), 10))
                .extracting(FailedRecord::reason)
                .containsOnly("it has stopped matching since the run began");
        assertThat(database.rows("select hive_id from hive order by 1")).containsExactly("3", "4", "90001");
    }

    @OnEveryEngine
    void whoeverSaysSoDeletesWhatWasSelectedWhenItBegan(Engine engine) {
        Database database = Readings.of(engine, 20);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);

        BulkRun run = runs.start(
                Approval.inChunks(vacancy.plan(OLD, ODILE)),
                BulkOptions.defaults().deletingAsSelected());
        database.run("update hive set name = 'kept' where hive_id in (3, 4)");
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults(), ALL_GO, each -> {});

        assertThat(end.done()).isEqualTo(20);
        assertThat(database.rows("select hive_id from hive")).containsExactly("90001");
    }

    @OnEveryEngine
    void criteriaThatCantBeKeptWithARunAreRefusedUnlessTheyDontMatterAnyMore(Engine engine) {
        Database database = Readings.of(engine, 5);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        Selection many = Selection.of("hive")
                .where(Criteria.parse("name = 'old' and hive_id in ("
                        + IntStream.range(1, 900).mapToObj(String::valueOf).collect(Collectors.joining(", ")) + ")"));

        assertThatThrownBy(() -> runs.start(many, ODILE, BulkOptions.defaults()))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("too long");
        BulkRun run = runs.start(many, ODILE, BulkOptions.defaults().deletingAsSelected());

        assertThat(run.records()).isEqualTo(5);
        assertThat(runs.list()).hasSize(1);
    }

    /** Somebody works on one of ten records, which are so few that the database would rather read all of them. */
    @OnEveryEngineButSqlite
    void aRecordThatSomebodyHoldsFailsByItself(Engine engine) throws Exception {
        Database database = Readings.of(engine, 10);
        Vacancy vacancy =
                Vacancy.over(database.source()).withLimits(Limits.defaults().lockWait(Duration.ofMillis(200)));
        BulkRuns runs = prepared(database, vacancy);
        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());

        BulkRun end;
        try (Connection other = database.connect();
                Statement statement = other.createStatement()) {
            other.setAutoCommit(false);
            statement.executeUpdate("update hive set name = 'mine' where hive_id = 5");
            end = runs.work(run.runId(), BulkOptions.defaults().chunk(10), ALL_GO, each -> {});
            other.rollback();
        }

        assertThat(List.of(end.done(), end.failed())).containsExactly(9L, 1L);
        assertThat(runs.failures(run.runId(), 10))
                .singleElement()
                .satisfies(left -> assertThat(left.key()).isEqualTo("5"));
        assertThat(database.rows("select hive_id from hive order by 1")).containsExactly("5", "90001");
    }

    @OnEveryEngine
    void aPausedRunCanGoOn(Engine engine) {
        Database database = Readings.of(engine, 20);
        database.run("insert into batch values (1, 5)");
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);

        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());
        runs.pause(run.runId());
        assertThat(runs.work(run.runId(), BulkOptions.defaults(), ALL_GO, each -> {})
                        .done())
                .isZero();
        runs.resume(run.runId());
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults(), ALL_GO, each -> {});

        assertThat(end.done()).isEqualTo(19);
        assertThatThrownBy(() -> runs.resume(run.runId()))
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.RUN_STATE);
    }

    @OnEveryEngine
    void aRunCanStopAtTheFirstFailureAndGoOnLater(Engine engine) {
        Database database = Readings.of(engine, 20);
        database.run("insert into batch values (1, 5)");
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        BulkOptions stopping = BulkOptions.defaults().chunk(1).stoppingAtFailure();

        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), stopping);
        BulkRun stopped = runs.work(run.runId(), stopping, ALL_GO, each -> {});
        database.run("delete from batch");
        runs.resume(run.runId());
        BulkRun end = runs.work(run.runId(), stopping, ALL_GO, each -> {});

        assertThat(stopped.state()).isEqualTo(BulkState.STOPPED);
        assertThat(stopped.done()).isEqualTo(4);
        assertThat(stopped.failed()).isEqualTo(1);
        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.done()).isEqualTo(20);
    }

    @OnEveryEngine
    void aCancelledRunLeavesTheRest(Engine engine) {
        Database database = Readings.of(engine, 20);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);

        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults().chunk(5), ALL_GO, each -> runs.cancel(run.runId()));

        assertThat(end.state()).isEqualTo(BulkState.CANCELLED);
        assertThat(end.done()).isEqualTo(5);
        assertThat(database.count("hive")).isEqualTo(16);
    }

    /** Between the last chunk and the end nothing is left that could be cancelled. */
    @OnEveryEngine
    void whoeverCancelsWhenAllIsDealtWithComesTooLate(Engine engine) {
        Database database = Readings.of(engine, 20);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);

        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults().chunk(10), ALL_GO, each -> {
            if (each.done() == 20) {
                runs.cancel(run.runId());
            }
        });

        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.endedAt()).isPresent();
        assertThat(database.count("hive")).isEqualTo(1);
    }

    /** SQLite lets nobody else write meanwhile. */
    @ParameterizedTest
    @EnumSource(value = Engine.class, mode = EnumSource.Mode.EXCLUDE, names = "SQLITE")
    void aRunThatIsCancelledInItsLastChunkIsDone(Engine engine) {
        Database database = Readings.of(engine, 20);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        AtomicReference<UUID> id = new AtomicReference<>();
        Exemption cancelling = Exemption.named("cancelling", (record, connection) -> {
            if (record.get("hive_id").equals(20)) {
                assertThat(runs.cancel(id.get()).state()).isEqualTo(BulkState.CANCELLED);
            }
            return Optional.empty();
        });

        BulkRun run = runs.start(
                Approval.inChunks(vacancy.plan(OLD, ODILE)),
                BulkOptions.defaults().exempting(cancelling));
        id.set(run.runId());
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults().chunk(10), cancelling, each -> {});

        assertThat(end.done()).isEqualTo(20);
        assertThat(end.state()).isEqualTo(BulkState.DONE);
    }

    /** What an earlier version made gets the column that has come since; a run from before then is told by when it began. */
    @OnEveryEngine
    void tablesOfAnEarlierVersionAreUpgraded(Engine engine) {
        Database database = Readings.of(engine, 20);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());
        database.run(
                "alter table vacancy_bulk_run drop column worked_at",
                "alter table vacancy_bulk_record drop column begun");

        boolean upgraded = Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply() > 0;
        boolean again = Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply() > 0;
        Instant before = runs.run(run.runId()).workedAt();
        runs.workChunk(run.runId(), BulkOptions.defaults().chunk(5), ALL_GO, each -> {});

        assertThat(upgraded).isTrue();
        assertThat(again).isFalse();
        assertThat(before).isEqualTo(run.startedAt());
        assertThat(runs.run(run.runId()).workedAt()).isAfter(before);
        assertThat(runs.run(run.runId()).idle(before)).isZero();
    }

    @OnEveryEngine
    void theApplicationDecidesOnEachRecord(Engine engine) {
        Database database = Readings.of(engine, 20);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        Exemption watched = Exemption.named(
                "watched",
                (record, connection) ->
                        record.get("hive_id").equals(7) ? Optional.of("the queen is being watched") : Optional.empty());

        BulkRun run = runs.start(
                Approval.inChunks(vacancy.plan(OLD, ODILE)),
                BulkOptions.defaults().exempting(watched));
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults(), watched, each -> {});

        assertThat(end.done()).isEqualTo(19);
        assertThat(end.skipped()).isEqualTo(1);
        assertThat(runs.failures(run.runId(), 10))
                .containsExactly(new FailedRecord("7", false, "the queen is being watched"));
        assertThat(database.rows("select hive_id from hive order by 1")).containsExactly("7", "90001");
    }

    private static Database withMuchBelow90001(Engine engine) {
        Database database = Readings.of(engine, 0);
        StringBuilder inspections = new StringBuilder("insert into inspection values (1, 90001)");
        StringBuilder frames = new StringBuilder("insert into frame_check values (1, 1)");
        for (int id = 2; id <= 120; id++) {
            inspections.append(", (").append(id).append(", 90001)");
            frames.append(", (").append(id).append(", 1), (").append(id).append(", 2)");
        }
        database.run("insert into hive values (1, 'other')", "insert into inspection values (5000, 1)");
        database.run(inspections.toString(), frames.toString());
        return database;
    }

    @OnEveryEngine
    void aRecordWithMuchBelowItGoesFromTheLeavesUp(Engine engine) {
        Database database = withMuchBelow90001(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        BulkOptions options = BulkOptions.defaults().chunk(30).maxPerTransaction(50);
        List<Long> deleted = new ArrayList<>();

        UUID[] id = new UUID[1];
        Exemption watching = Exemption.named("watching", (record, connection) -> {
            deleted.add(runs.run(id[0]).deleted());
            return Optional.empty();
        });
        BulkRun run = runs.start(
                Approval.inChunks(vacancy.plan(Selection.of("hive").key(90001), ODILE)),
                BulkOptions.defaults().exempting(watching));
        id[0] = run.runId();
        BulkRun end = runs.work(run.runId(), options, watching, each -> {});

        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.done()).isEqualTo(1);
        assertThat(deleted)
                .as("what was gone when it was asked whether the record may go: before anything does, and in the end")
                .containsExactly(0L, 121L + 240);
        assertThat(end.deleted()).isEqualTo(1 + 121 + 240);
        assertThat(database.rows("select hive_id from hive")).containsExactly("1");
        assertThat(database.rows("select inspection_id from inspection")).containsExactly("5000");
        assertThat(database.count("frame_check")).isZero();
    }

    @OnEveryEngine
    void whatIsBelowARecordThatIsKeptStaysHoweverMuchItIs(Engine engine) {
        Database database = withMuchBelow90001(engine);

        BulkRuns runs = Vacancy.over(database.source()).bulk();
        BulkRun end = workOn90001(database, Exemption.named("kept", (record, connection) -> Optional.of("it is kept")));

        assertThat(end.skipped()).isEqualTo(1);
        assertThat(end.deleted()).isZero();
        assertThat(runs.failures(end.runId(), 10)).containsExactly(new FailedRecord("90001", false, "it is kept"));
        assertThat(database.count("inspection")).isEqualTo(122);
        assertThat(database.count("frame_check")).isEqualTo(240);
    }

    @OnEveryEngine
    void whatIsGoneAlreadyIsToldOfARecordThatIsKeptInTheEnd(Engine engine) {
        Database database = withMuchBelow90001(engine);
        AtomicBoolean asked = new AtomicBoolean();

        BulkRuns runs = Vacancy.over(database.source()).bulk();
        BulkRun end = workOn90001(
                database,
                Exemption.named(
                        "late",
                        (record, connection) -> Optional.of("it came late").filter(why -> asked.getAndSet(true))));

        assertThat(end.skipped()).isEqualTo(1);
        assertThat(end.deleted()).isEqualTo(121 + 240);
        assertThat(runs.failures(end.runId(), 10))
                .extracting(FailedRecord::reason)
                .containsExactly("240 of frame_check, 121 of inspection below it are gone; it came late");
    }

    private static BulkRun workOn90001(Database database, Exemption exemption) {
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        BulkRun run = runs.start(
                Approval.inChunks(vacancy.plan(Selection.of("hive").key(90001), ODILE)),
                BulkOptions.defaults().exempting(exemption));
        return runs.work(run.runId(), BulkOptions.defaults().chunk(30).maxPerTransaction(50), exemption, each -> {});
    }

    @OnEveryEngine
    void aSelectionThatMovedIsAskedForAgain(Engine engine) {
        Database database = Readings.of(engine, 10);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        Approval approval = Approval.inChunks(vacancy.plan(OLD, ODILE));
        database.run("insert into hive values (500, 'old')");

        assertThatThrownBy(() -> runs.start(approval, BulkOptions.defaults()))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("1 more of hive");
        assertThat(runs.list()).isEmpty();
        assertThat(runs.start(approval, BulkOptions.defaults().tolerating(1)).records())
                .isEqualTo(11);
    }

    @OnEveryEngine
    void otherRulesThanThoseItWasApprovedWithAreRefused(Engine engine) {
        Database database = Readings.of(engine, 10);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRun run =
                prepared(database, vacancy).start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());
        BulkRuns other = Vacancy.over(database.source(), RuleBook.bySchema().on("batch.hive_id", Clause.cascade()))
                .bulk();

        assertThatThrownBy(() -> other.work(run.runId(), BulkOptions.defaults(), ALL_GO, each -> {}))
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.RULES);
        assertThat(database.count("hive")).isEqualTo(11);
    }

    @OnEveryEngine
    void withoutItsTablesItSaysHowToMakeThem(Engine engine) throws Exception {
        Database database = Readings.of(engine, 2);
        Vacancy vacancy = Vacancy.over(database.source());

        assertThat(vacancy.bulk().list()).isEmpty();
        assertThatThrownBy(
                        () -> vacancy.bulk().start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults()))
                .hasMessageContaining("Ddl.Part.BULK_RUNS")
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.NO_STATE_TABLES);
        assertThat(Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply()).isPositive();
        assertThat(Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply()).isZero();
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            assertThatThrownBy(() -> vacancy.joining(connection).bulk())
                    .extracting(failure -> ((VacancyException) failure).code())
                    .isEqualTo(FailureCode.FOREIGN_TRANSACTION);
            connection.rollback();
        }
    }

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "MARIADB"})
    void severalWorkersShareARun(Engine engine) throws Exception {
        Database database = Readings.of(engine, 400);
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        BulkRun run = runs.start(Approval.inChunks(vacancy.plan(OLD, ODILE)), BulkOptions.defaults());
        ExecutorService workers = Executors.newFixedThreadPool(4);
        List<Future<BulkRun>> ends = new ArrayList<>();

        for (int worker = 0; worker < 4; worker++) {
            ends.add(workers.submit(
                    () -> runs.work(run.runId(), BulkOptions.defaults().chunk(10), ALL_GO, each -> {})));
        }
        for (Future<BulkRun> end : ends) {
            assertThat(end.get(120, TimeUnit.SECONDS).state()).isEqualTo(BulkState.DONE);
        }
        workers.shutdown();

        BulkRun end = runs.run(run.runId());
        assertThat(end.done()).isEqualTo(400);
        assertThat(end.failed()).isZero();
        assertThat(end.deleted()).isEqualTo(400 + 800 + 400);
        assertThat(database.count("hive")).isEqualTo(1);
    }

    /** What one of them opens again, to be tried once more, isn't passed over by another one that ends at the same moment. */
    @OnEveryEngine
    void severalWorkersThatEndTogetherLeaveNothingOpen(Engine engine) throws Exception {
        Database database = Readings.of(engine, 4);
        database.run("insert into batch values (1, 2)");
        Vacancy vacancy = Vacancy.over(database.source());
        BulkRuns runs = prepared(database, vacancy);
        ExecutorService workers = Executors.newFixedThreadPool(3);
        try {
            for (int round = 0; round < 25; round++) {
                UUID run = runs.start(Selection.of("hive").keys(List.of(2)), ODILE, BulkOptions.defaults())
                        .runId();
                Callable<BulkRun> work = () -> runs.work(run);
                for (Future<BulkRun> end : workers.invokeAll(Collections.nCopies(3, work))) {
                    end.get(60, TimeUnit.SECONDS);
                }
                assertThat(runs.run(run).open()).as("round %d", round).isZero();
                assertThat(runs.run(run).failed()).as("round %d", round).isEqualTo(1);
            }
        } finally {
            workers.shutdown();
        }
    }

    private static BulkRuns prepared(Database database, Vacancy vacancy) {
        BulkRuns runs = vacancy.bulk();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        return runs;
    }
}
