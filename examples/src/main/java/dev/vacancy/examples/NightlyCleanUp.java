package dev.vacancy.examples;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.demo.Larkmoor;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import java.sql.SQLException;
import java.util.Optional;

/** Large deletions in chunks: old readings every night, and an apiary that leaves with all that is below it. */
public final class NightlyCleanUp {
    private static final By CLEAN_UP = By.program("nightly clean-up").because("kept long enough");

    private NightlyCleanUp() {}

    public static void main(String[] arguments) throws SQLException {
        try (HikariDataSource database = new HikariDataSource()) {
            database.setJdbcUrl("jdbc:h2:mem:cleanup");
            try (var connection = database.getConnection()) {
                Larkmoor.create(connection, 1);
            }
            RuleBook rules = RuleBook.bySchema()
                    .on("batch_hive.hive_id", Clause.cascade())
                    .on("placement.apiary_id", Clause.cascade());
            Vacancy vacancy = Vacancy.over(database, rules);
            BulkRuns runs = vacancy.bulk();
            Ddl.of(database, Ddl.Part.BULK_RUNS).apply();

            // The application's own code has the last word on each record.
            Exemption swarmWatch = Exemption.named(
                    "swarm watch",
                    (reading, connection) -> reading.key().text().equals("7")
                            ? Optional.of("the swarm is still being looked into")
                            : Optional.empty());
            Selection old = Selection.of("reading").where(Criteria.parse("taken_at < '2026-05-01 00:00:00'"));
            say(delete(runs, old, BulkOptions.defaults().named("old readings").exempting(swarmWatch)));

            // From the leaves up, at most 500 records in a transaction, the apiary itself last.
            Selection apiary = Selection.of("apiary").key(2);
            BulkOptions small = BulkOptions.defaults().named("Bramble leaves").maxPerTransaction(500);
            say(delete(runs, apiary, small));
        }
    }

    /** A program has decided, and nobody is asked. */
    private static BulkRun delete(BulkRuns runs, Selection selection, BulkOptions options) {
        BulkRun run = runs.start(selection, CLEAN_UP, options);
        return runs.work(run.runId(), options, options.exemption(), soFar -> {});
    }

    private static void say(BulkRun run) {
        System.out.println(run.name() + ": " + run.state() + ", " + run.deleted() + " records deleted, " + run.skipped()
                + " kept, " + run.failed() + " failed");
    }
}
