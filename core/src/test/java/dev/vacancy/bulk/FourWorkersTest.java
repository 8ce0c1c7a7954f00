package dev.vacancy.bulk;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** Four processes share one bulk run, and some of them are killed. */
class FourWorkersTest {
    private static final int HIVES = 600;
    private static final int WORKERS = 4;
    private static final int KILLED = 2;

    @Test
    void whatSomeLeaveTheOthersTakeAndNothingIsDoneTwice() throws Exception {
        Database database = Readings.fill(Engine.POSTGRESQL.database(), HIVES);
        Vacancy vacancy = Vacancy.over(database.source());
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        BulkRun run = vacancy.bulk()
                .start(
                        Approval.inChunks(vacancy.plan(
                                Selection.of("hive").where(Criteria.parse("name = 'old'")), By.program("clean-up"))),
                        BulkOptions.defaults());

        List<WorkingProcess> workers = new ArrayList<>();
        for (int i = 0; i < WORKERS; i++) {
            workers.add(WorkingProcess.on(database, run));
        }
        for (WorkingProcess worker : workers) {
            worker.awaitChunk();
        }
        for (WorkingProcess worker : workers.subList(0, KILLED)) {
            worker.kill();
        }
        for (WorkingProcess worker : workers.subList(KILLED, WORKERS)) {
            assertThat(worker.end(2, TimeUnit.MINUTES)).isZero();
        }

        BulkRun end = vacancy.bulk().run(run.runId());
        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.done()).isEqualTo(HIVES);
        assertThat(end.skipped() + end.failed()).isZero();
        assertThat(end.deleted()).isEqualTo(4L * HIVES);
        assertThat(database.rows("select hive_id from hive")).containsExactly("90001");
        try (Connection connection = database.connect()) {
            assertThat(Database.rows(connection, "select count(*) from vacancy_bulk_record where state <> 'done'"))
                    .containsExactly("0");
        }
    }
}
