package dev.vacancy.examples.tasks;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import javax.sql.DataSource;

/** Delete old readings in chunks: the types that an application names for it, once its tables are there. */
final class BulkDeletion {
    private BulkDeletion() {}

    static long deleteOldReadings(DataSource dataSource) {
        BulkRuns runs = Vacancy.over(dataSource).bulk();
        Selection old = Selection.of("reading").where(Criteria.parse("taken_at < '2026-03-10T00:00'"));
        BulkRun run =
                runs.start(old, By.program("clean-up"), BulkOptions.defaults().named("old readings"));
        return runs.work(run.runId()).deleted();
    }
}
