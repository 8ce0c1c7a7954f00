package dev.vacancy.bulk;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailRun;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.io.TempDir;

/**
 * Workers are killed while they work, and others go on: nothing is lost, and nothing is done twice. {@code -Dvacancy.test.kills=200}
 * kills that many on each database.
 */
class KilledTest {
    private static final int KILLS = Integer.getInteger("vacancy.test.kills", 3);
    private static final int HIVES_A_KILL = 120;

    @TempDir
    Path folder;

    @OnEveryEngine
    void afterEachKillAnotherWorkerGoesOn(Engine engine) throws Exception {
        int hives = HIVES_A_KILL * KILLS;
        Database database =
                Readings.fill(engine == Engine.H2 ? Engine.h2In(folder.resolve("larkmoor")) : engine.database(), hives);
        RuleBook rules = RuleBook.bySchema().trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules);
        BulkRuns runs = vacancy.bulk();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        BulkRun run = runs.start(
                Approval.inChunks(vacancy.plan(
                        Selection.of("hive").where(Criteria.parse("name = 'old'")), By.program("clean-up"))),
                BulkOptions.defaults());
        Random random = new Random(hives);

        for (int kill = 0; kill < KILLS; kill++) {
            killWhileItWorks(database, run, random.nextInt(250));
            assertWhole(database, runs.run(run.runId()), hives);
        }
        BulkRun end = runs.work(run.runId(), BulkOptions.defaults(), Exemption.none(), each -> {});

        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.done()).isEqualTo(hives);
        assertThat(end.failed()).isZero();
        assertWhole(database, end, hives);
        assertThat(database.rows("select hive_id from hive")).containsExactly("90001");
        assertThat(database.rows("select inspection_id from inspection")).containsExactly("990001");
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    @OnEveryEngine
    void aRestoreThatIsKilledIsGoneOnWith(Engine engine) throws Exception {
        int hives = HIVES_A_KILL * KILLS;
        Database database =
                Readings.fill(engine == Engine.H2 ? Engine.h2In(folder.resolve("larkmoor")) : engine.database(), hives);
        RuleBook rules = RuleBook.bySchema().trail(Trail.defaults());
        Ddl.of(database.source(), rules).apply();
        Vacancy vacancy = Vacancy.over(database.source(), rules);
        List<String> before = database.contents("hive", "inspection", "frame_check");
        By odile = By.user("odile");
        UUID gone = vacancy.run(
                        Approval.of(vacancy.plan(Selection.of("hive").where(Criteria.parse("name = 'old'")), odile)))
                .runId();
        Random random = new Random(hives);
        int killed = 0;

        for (int kill = 0; kill < KILLS && isAway(vacancy, gone, odile); kill++) {
            WorkingProcess restorer = WorkingProcess.restoring(database, gone);
            restorer.awaitChunk();
            TimeUnit.MILLISECONDS.sleep(random.nextInt(60));
            restorer.kill();
            killed++;
            assertThat(back(vacancy))
                    .isEqualTo(
                            database.count("hive") + database.count("inspection") + database.count("frame_check") - 3L)
                    .isPositive();
        }
        if (isAway(vacancy, gone, odile)) {
            vacancy.history().restore(Approval.of(vacancy.history().planRestore(gone, odile)), 500, each -> {});
        }

        assertThat(killed).isPositive();
        assertThat(database.contents("hive", "inspection", "frame_check")).isEqualTo(before);
        assertThat(vacancy.history().verify(Optional.empty()).faults()).isEmpty();
    }

    /** A restore of which nobody was told the end may have come to it all the same. */
    private static boolean isAway(Vacancy vacancy, UUID run, By by) {
        try {
            return !vacancy.history().planRestore(run, by).isEmpty();
        } catch (InvalidRequestException undone) {
            assertThat(undone).hasMessageContaining("was undone by restorer");
            return false;
        }
    }

    /** How many records the trail says are back. */
    private static long back(Vacancy vacancy) {
        return vacancy.history().runs(HistoryQuery.all()).stream()
                .filter(TrailRun::isRestore)
                .mapToLong(TrailRun::entries)
                .sum();
    }

    /** What the run says is done is gone, with all below it, and nothing else is. */
    private static void assertWhole(Database database, BulkRun run, int hives) {
        assertThat(database.count("hive")).isEqualTo(hives + 1 - run.done());
        assertThat(database.count("inspection")).isEqualTo(2L * hives + 1 - 2 * run.done());
        assertThat(run.deleted()).isEqualTo(4 * run.done());
        assertThat(database.count("vacancy_trail_entry")).isEqualTo(run.deleted());
    }

    private static void killWhileItWorks(Database database, BulkRun run, int millis) throws Exception {
        WorkingProcess worker = WorkingProcess.on(database, run, true);
        worker.awaitChunk();
        TimeUnit.MILLISECONDS.sleep(millis);
        worker.kill();
    }
}
